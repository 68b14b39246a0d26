import { useEffect } from 'react';

/** Keeps the screen on while a walk is under way; a browser that cannot, or may not, lets it go dark as usual. */
export function useWakeLock(): void {
  useEffect(() => {
    let lock: WakeLockSentinel | null = null;
    let over = false;
    const hold = async () => {
      if (over || document.visibilityState !== 'visible' || !('wakeLock' in navigator)) return;
      lock = await navigator.wakeLock.request('screen').catch(() => null);
      if (over) void lock?.release();
    };
    void hold();
    // The system takes it back when another page is looked at.
    const again = () => void hold();
    document.addEventListener('visibilitychange', again);
    return () => {
      over = true;
      document.removeEventListener('visibilitychange', again);
      void lock?.release();
    };
  }, []);
}
