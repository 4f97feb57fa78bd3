import { useEffect } from 'react';

/** The screen stays lit while this is in view, where the browser can see to it. */
export function useWakeLock(): void {
  useEffect(() => {
    let lock: WakeLockSentinel | undefined;
    let gone = false;
    const ask = () => {
      if (document.visibilityState !== 'visible' || !('wakeLock' in navigator)) return;
      navigator.wakeLock.request('screen').then(
        (got) => {
          if (gone) void got.release();
          else lock = got;
        },
        () => undefined,
      );
    };
    ask();
    // It is lost whenever the page is hidden.
    document.addEventListener('visibilitychange', ask);
    return () => {
      gone = true;
      document.removeEventListener('visibilitychange', ask);
      void lock?.release();
    };
  }, []);
}
