/** What a hand does on a page; a pointer that only passes over it is none of that. */
const BY_HAND = ['keydown', 'input', 'pointerdown', 'wheel', 'touchmove'] as const;
/** A hand that never rests puts nothing off for longer than this, ms. */
const AT_LATEST_MS = 60_000;

/**
 * Does once, when nothing was typed, pressed or scrolled for a while: what nobody waits for has the machine only then.
 * @param ms how long a hand must have rested, from now
 * @param begins how long from now where no hand stirs at all; as long, if left out
 * @returns takes it back, as far as it was not done
 */
export function whenHandRests(ms: number, act: () => void, begins = ms): () => void {
  let rest: ReturnType<typeof setTimeout>;
  const stop = (): void => {
    clearTimeout(rest);
    clearTimeout(latest);
    for (const name of BY_HAND) removeEventListener(name, wait, true);
  };
  const done = (): void => {
    stop();
    act();
  };
  const wait = (): void => {
    clearTimeout(rest);
    rest = setTimeout(done, ms);
  };
  const latest = setTimeout(done, AT_LATEST_MS);
  for (const name of BY_HAND) addEventListener(name, wait, { capture: true, passive: true });
  rest = setTimeout(done, begins);
  return stop;
}
