import { createRoot } from 'react-dom/client';
import { RemoteApp } from './RemoteApp';
import '../parts/styles.css';
import { tellTextScale } from '../parts/textScale';

tellTextScale();
createRoot(document.getElementById('root')!).render(<RemoteApp />);
