import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { App } from './App';
import { boot } from './boot';
import { store } from './state/store';
import './styles.css';

createRoot(document.getElementById('root')!).render(<Provider store={store}><App /></Provider>);
void boot();
