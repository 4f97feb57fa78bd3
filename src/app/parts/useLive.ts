import { useEffect, useReducer, useSyncExternalStore } from 'react';

interface Subscribable {
  subscribe: (listener: () => void) => () => void;
}

/** Draws again whenever the store tells; `read` gives what is wanted of it, and equal answers draw nothing. */
export const useStore = <S extends Subscribable, T>(store: S, read: (store: S) => T): T =>
  useSyncExternalStore(store.subscribe, () => read(store));

/** Draws again whenever the store tells, at most once a frame. For things whose answers are new objects each time. */
export function useRefresh(store: Subscribable): number {
  const [count, again] = useReducer((n: number) => n + 1, 0);
  useEffect(() => {
    let frame = 0;
    const stop = store.subscribe(() => {
      frame ||= requestAnimationFrame(() => {
        frame = 0;
        again();
      });
    });
    return () => {
      stop();
      cancelAnimationFrame(frame);
    };
  }, [store]);
  return count;
}

/** Runs on every frame while the component is there. */
export function useFrames(draw: (now: number) => void): void {
  useEffect(() => {
    let frame = requestAnimationFrame(function step(now) {
      draw(now);
      frame = requestAnimationFrame(step);
    });
    return () => cancelAnimationFrame(frame);
  }, [draw]);
}
