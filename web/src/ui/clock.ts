/** Under this name a device remembers how far its clock is off the server's, ms. */
const OFF_KEY = 'katharos.clock';
/** A clock this near the server's is taken as it is, ms: an answer takes its time, and says whole seconds. */
const NEAR_MS = 90_000;
/** The correction is left alone for less than this, ms. */
const STEADY_MS = 5000;

function readOff(): number {
  try {
    const off = Number(localStorage.getItem(OFF_KEY));
    return Number.isFinite(off) ? off : 0;
  } catch {
    return 0;
  }
}
let offMs = readOff();

/** How far this device's clock is behind the server's, ms; 0 where they agree. Negative where it is ahead. */
export const clockOffMs = (): number => offMs;

/**
 * What time it is, ms since 1970: by this device's clock, put right by the server's where the two do not agree. What is written
 * down carries it, so that a clock that is a day off puts nothing before or after what others wrote.
 */
export const nowMs = (): number => Date.now() + offMs;

/** Hears what time the server says it is. @param said its `Date` header; null is not heeded @param askedMs this device's clock when it was asked */
export function hearTime(said: string | null, askedMs: number): void {
  const serverMs = Date.parse(said ?? '') + 500;
  if (Number.isNaN(serverMs)) return;
  const off = serverMs - (askedMs + Date.now()) / 2;
  const next = Math.abs(off) < NEAR_MS ? 0 : off;
  if (next !== 0 && Math.abs(next - offMs) < STEADY_MS) return;
  offMs = next;
  try {
    if (next === 0) localStorage.removeItem(OFF_KEY);
    else localStorage.setItem(OFF_KEY, String(next));
  } catch {
    // heard again the next time
  }
}
