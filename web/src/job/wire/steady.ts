/** A figure as it came over the wire, seconds since it was first asked. */
export interface Sample {
  readonly seconds: number;
  readonly value: number;
}

/** A figure that stands within its meter's error for so long is settled, s. */
export const STEADY_SECONDS = 30;

/**
 * How long a figure has stood still up to now: the last samples whose values all lie within twice the error, s.
 * @param error half-width of the meter's own error at the figure, in the samples' unit, above 0
 */
export function steadySeconds(samples: readonly Sample[], error: number): number {
  const last = samples.at(-1);
  if (!last) return 0;
  let [low, high, since] = [last.value, last.value, last.seconds];
  for (const s of [...samples].reverse()) {
    low = Math.min(low, s.value);
    high = Math.max(high, s.value);
    if (high - low > 2 * error) break;
    since = s.seconds;
  }
  return last.seconds - since;
}
