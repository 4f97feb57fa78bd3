import { notice, store } from './state/store';

const LATER_MS = 9000;

/**
 * Has everything kept for when the network is off, once nothing else wants the line, and says when a newer version waits: it takes over when it is asked to and not before.
 */
export function workOffline(): void {
  if (!('serviceWorker' in navigator) || !import.meta.env.PROD) return;
  const offer = (worker: ServiceWorker) => store.dispatch(notice('info', 'A newer version of Wavicle is here. It waits until you want it.', 'version', {
    label: 'Use it now',
    run: () => {
      navigator.serviceWorker.addEventListener('controllerchange', () => location.reload(), { once: true });
      worker.postMessage({ type: 'SKIP_WAITING' });
    },
  }));
  const watch = (registration: ServiceWorkerRegistration) => {
    if (registration.waiting && navigator.serviceWorker.controller) offer(registration.waiting);
    registration.addEventListener('updatefound', () => {
      const worker = registration.installing;
      worker?.addEventListener('statechange', () => { if (worker.state === 'installed' && navigator.serviceWorker.controller) offer(worker); });
    });
  };
  const register = () => void navigator.serviceWorker.register('/sw.js', { updateViaCache: 'none' }).then(watch, () => undefined);
  if (navigator.serviceWorker.controller) register();
  else setTimeout(register, LATER_MS);
}
