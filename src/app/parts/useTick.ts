import { useEffect, useReducer } from 'react';

/** Draws again some times a second, while something moves by itself and numbers should follow. */
export function useTick(moves: boolean, perSecond = 8): number {
  const [count, again] = useReducer((n: number) => n + 1, 0);
  useEffect(() => {
    if (!moves) return undefined;
    const timer = setInterval(again, 1000 / perSecond);
    return () => clearInterval(timer);
  }, [moves, perSecond]);
  return count;
}
