import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { App } from './App';
import { boot } from './views/desk/boot';
import { whatIsMissing } from '../host/ability';
import { Unfit } from './views/desk/Unfit';
import { store } from './document/store';
import './parts/styles.css';
import { tellTextScale } from './parts/textScale';

// The view that comes first is on its way while the rest begins.
void (location.pathname.startsWith('/stage') ? import('./views/stage/StageView') : import('./views/layers/LayersView'));

const missing = whatIsMissing();
tellTextScale();
createRoot(document.getElementById('root')!).render(
  missing === undefined ? (
    <Provider store={store}>
      <App />
    </Provider>
  ) : (
    <Unfit missing={missing} />
  ),
);
if (missing === undefined) void boot();
