import { useEffect, useReducer, useRef, useSyncExternalStore } from 'react';

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

/**
 * What `read` gives now, read again at most once a frame after any of the stores told; the component is drawn again only
 * where the answer is another one. `stores` must be the same ones each time.
 */
export function useNow<T>(stores: readonly Subscribable[], read: () => T): T {
  const [, again] = useReducer((n: number) => n + 1, 0);
  const value = read();
  const latest = useRef({ read, value });
  useEffect(() => {
    latest.current = { read, value };
  });
  useEffect(() => {
    let frame = 0;
    const look = () => {
      frame = 0;
      if (!Object.is(latest.current.read(), latest.current.value)) again();
    };
    const stops = stores.map((store) =>
      store.subscribe(() => {
        frame ||= requestAnimationFrame(look);
      }),
    );
    return () => {
      for (const stop of stops) stop();
      cancelAnimationFrame(frame);
    };
  }, [stores]);
  return value;
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
