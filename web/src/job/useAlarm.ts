import { useEffect, useRef } from 'react';

/** A clock that rings once it is due. */
export interface Ringing {
  readonly key: string;
  readonly dueMs: number;
}

/** Rung so often, this far apart: somebody with both hands full hears one of them, ms. */
const TIMES = 3;
const APART_MS = 20_000;
/** Half a second each way, ms. */
const SHAKE = [400, 200, 400];

/** Under this name a device remembers that it is to be quiet. */
const QUIET_KEY = 'katharos.quiet';

export const isQuiet = (): boolean => {
  try {
    return localStorage.getItem(QUIET_KEY) !== null;
  } catch {
    return false;
  }
};
export function setQuiet(quiet: boolean): void {
  try {
    if (quiet) localStorage.setItem(QUIET_KEY, '1');
    else localStorage.removeItem(QUIET_KEY);
  } catch {
    // it rings, as it did
  }
}

/** Two tones of this device's own: nothing is fetched. Silent where a page may make no sound before it was touched. */
export function ring(): void {
  if (typeof AudioContext === 'undefined') return;
  const audio = new AudioContext();
  [880, 660, 880].forEach((hertz, i) => {
    const tone = audio.createOscillator();
    const loud = audio.createGain();
    tone.frequency.value = hertz;
    loud.gain.value = 0.25;
    tone.connect(loud).connect(audio.destination);
    tone.start(audio.currentTime + 0.35 * i);
    tone.stop(audio.currentTime + 0.35 * i + 0.3);
  });
  setTimeout(() => void audio.close(), 2000);
}

/**
 * Rings and shakes when a clock is due, and again while it is not heeded; the screen is kept awake while one runs and the page is
 * seen. A page that was frozen rings when it is seen again. @param now the page's clock, ms since 1970
 */
export function useAlarm(clocks: readonly Ringing[], now: number): void {
  const rung = useRef(new Map<string, number>());
  useEffect(() => {
    for (const { key, dueMs } of clocks) {
      const id = `${key} ${String(dueMs)}`;
      const times = rung.current.get(id) ?? 0;
      if (now < dueMs || times >= TIMES || now < dueMs + times * APART_MS) continue;
      // after a long sleep it rings once, not for each time it should have
      rung.current.set(id, Math.max(times + 1, Math.min(TIMES, Math.floor((now - dueMs) / APART_MS))));
      if (isQuiet()) continue;
      ring();
      if ('vibrate' in navigator) navigator.vibrate(SHAKE);
    }
  }, [clocks, now]);
  useAwake(clocks.length > 0);
}

/** Keeps the screen awake, where the device lets a page, for as long as it is seen. */
function useAwake(on: boolean): void {
  useEffect(() => {
    if (!on || !('wakeLock' in navigator)) return;
    let held: WakeLockSentinel | null = null;
    let over = false;
    const take = (): void => {
      if (document.visibilityState !== 'visible') return;
      navigator.wakeLock.request('screen').then(
        (lock) => {
          if (over) void lock.release();
          else held = lock;
        },
        () => {
          // a battery that is nearly empty lets none
        },
      );
    };
    take();
    document.addEventListener('visibilitychange', take);
    return () => {
      over = true;
      document.removeEventListener('visibilitychange', take);
      void held?.release();
    };
  }, [on]);
}
