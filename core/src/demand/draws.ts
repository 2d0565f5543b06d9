import type { Random } from './random.ts';

const { floor, max, min, round } = Math;

/** What a household does with its water. */
export interface Habits {
  /** on the mean day, L */
  readonly litresADay: number;
  /** a stock pot or bottles in a row, L */
  readonly largestDrawL: number;
}

/** One time somebody opens the tap. */
export interface Draw {
  /** of the day, 0 to 1439 */
  readonly minute: number;
  readonly litres: number;
}

/** Kinds of draws: share of the day's water, size, and whether they go with meals or are spread over the waking day. */
const KINDS = [
  { share: 0.45, litres: 0.25, atMeals: false },
  { share: 0.2, litres: 0.6, atMeals: false },
  { share: 0.25, litres: 1.2, atMeals: true },
] as const;
/** Share of the day's water that goes in the largest draws; in a small household one comes every few days. */
const LARGE_SHARE = 0.1;

/** Meals, minutes of the day, and how much of the cooking goes with each. */
const MEALS = [
  { minute: 450, upTo: 0.3 },
  { minute: 750, upTo: 0.55 },
  { minute: 1110, upTo: 1 },
] as const;
const WAKES = 390;
const SLEEPS = 1350;

/**
 * The draws of one day, in order. The day's total swings by about a fifth; over many days its mean is the habits' own.
 * @param random the caller's generator: the same one gives the same days
 */
export function drawsOfDay(habits: Habits, random: Random): Draw[] {
  const draws: Draw[] = [];
  const day = habits.litresADay * (0.5 + 0.5 * (random() + random()));
  const put = (litres: number, atMeals: boolean): void => {
    const spread = random() + random() - 1;
    let minute: number;
    if (atMeals) {
      const which = random();
      minute = (MEALS.find((m) => which < m.upTo) ?? MEALS[2]).minute + spread * 75;
    } else minute = WAKES + ((spread + 1) / 2) * (SLEEPS - WAKES);
    draws.push({ minute: min(1439, max(0, round(minute))), litres });
  };
  const several = (share: number, litres: number, atMeals: boolean): void => {
    // a part of a draw is a draw on some days
    const count = floor((share * day) / litres + random());
    for (let i = 0; i < count; i++) put(litres, atMeals);
  };
  for (const k of KINDS) several(k.share, k.litres, k.atMeals);
  several(LARGE_SHARE, habits.largestDrawL, true);
  return draws.sort((a, b) => a.minute - b.minute || a.litres - b.litres);
}
