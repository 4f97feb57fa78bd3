import { createRoot } from 'react-dom/client';
import { RemoteApp } from './RemoteApp';
import '../styles.css';

createRoot(document.getElementById('root')!).render(<RemoteApp />);
