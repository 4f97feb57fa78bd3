import { notice, store } from '../document/store';

const LATER_MS = 9000;

/**
 * Has everything kept for when the network is off, once nothing else wants the line. A newer version waits until it is
 * asked for: it is told once, and stays to be had in the settings.
 */
class Offline {
  /** The version that waits. */
  waiting: ServiceWorker | null = null;
  private readonly listeners = new Set<() => void>();

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  start(): void {
    if (!('serviceWorker' in navigator) || !import.meta.env.PROD) return;
    const register = () =>
      void navigator.serviceWorker.register('/sw.js', { updateViaCache: 'none' }).then(
        (registration) => this.watch(registration),
        () => undefined,
      );
    if (navigator.serviceWorker.controller) register();
    else setTimeout(register, LATER_MS);
  }

  /** The version that waits takes over, and the page begins anew with it. */
  use(): void {
    navigator.serviceWorker.addEventListener('controllerchange', () => location.reload(), { once: true });
    this.waiting?.postMessage({ type: 'SKIP_WAITING' });
  }

  private watch(registration: ServiceWorkerRegistration): void {
    // The first one waits for nobody, and is no news.
    const offer = (worker: ServiceWorker) => {
      if (navigator.serviceWorker.controller) this.offer(worker);
    };
    if (registration.waiting) offer(registration.waiting);
    registration.addEventListener('updatefound', () => {
      const worker = registration.installing;
      worker?.addEventListener('statechange', () => {
        if (worker.state === 'installed') offer(worker);
      });
    });
  }

  private offer(worker: ServiceWorker): void {
    this.waiting = worker;
    for (const listener of this.listeners) listener();
    store.dispatch(
      notice(
        'info',
        'A newer version of Wavicle is here. It waits until you want it, in the settings as well.',
        'version',
        { label: 'Use it now', run: () => this.use() },
      ),
    );
  }
}

export const offline = new Offline();
