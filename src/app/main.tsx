import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { App } from './App';
import { boot } from './boot';
import { whatIsMissing } from '../host/ability';
import { Unfit } from './parts/Unfit';
import { store } from './state/store';
import './styles.css';

const missing = whatIsMissing();
createRoot(document.getElementById('root')!).render(missing === undefined ? <Provider store={store}><App /></Provider> : <Unfit missing={missing} />);
if (missing === undefined) void boot();
