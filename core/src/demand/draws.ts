import type { Random } from './random.ts';

const { abs, floor, max, min, round } = Math;

/** What a household does with its water. */
export interface Habits {
  /** on the mean day, L */
  readonly litresADay: number;
  /** a stock pot or bottles in a row, L */
  readonly largestDrawL: number;
  /** cooked at home, a day; two where nobody says */
  readonly mealsADay?: number | undefined;
  /** filled to take along, each of `BOTTLE_L`, a day */
  readonly bottlesADay?: number | undefined;
  /** made into ice or drawn at the fridge, L a day */
  readonly iceLADay?: number | undefined;
  /** at another tap on the same system, L a day */
  readonly secondTapLADay?: number | undefined;
}

/** A bottle as people carry it, L. */
export const BOTTLE_L = 0.75;
/** Meals a day that the usual litres of a person hold already, and the share of these that goes into cooking. */
export const USUAL_MEALS = 2;
export const COOKING_SHARE = 0.25;
/** An ice maker fills its tray, a fridge a glass, L. */
const ICE_L = 0.2;

/** What goes beyond drinks and cooking: bottles, ice, a second tap, L a day. */
export function extraLADay(h: Pick<Habits, 'bottlesADay' | 'iceLADay' | 'secondTapLADay'>): number {
  return BOTTLE_L * (h.bottlesADay ?? 0) + (h.iceLADay ?? 0) + (h.secondTapLADay ?? 0);
}

/** One time somebody opens the tap. */
export interface Draw {
  /** of the day, 0 to 1439 */
  readonly minute: number;
  readonly litres: number;
}

/** Kinds of draws: share of the day's water, size, and whether they go with meals or are spread over the waking day. */
const KINDS = [
  { share: 0.45, litres: 0.25, cooking: false },
  { share: 0.2, litres: 0.6, cooking: false },
  { share: COOKING_SHARE, litres: 1.2, cooking: true },
] as const;
/** Share of the day's water that goes in the largest draws; in a small household one comes every few days. */
const LARGE_SHARE = 0.1;
/** Share of the largest draws that go with the meal at noon; the rest with the evening's. */
const AT_NOON = 0.35;

/** Meals, minutes of the day, and how much of the cooking goes with each. */
const MEALS = [
  { minute: 450, upTo: 0.3 },
  { minute: 750, upTo: 0.55 },
  { minute: 1110, upTo: 1 },
] as const;
const WAKES = 390;
const SLEEPS = 1350;
/** Bottles are filled before people leave. */
const LEAVES = 440;
/** Of a day's litres at the most for what goes beyond drinks and cooking. */
const EXTRA_MOST = 0.8;

type When = 'waking' | 'meals' | 'pot' | 'leaving' | 'any';

/**
 * The draws of one day, in order. The day's total swings by about a fifth; over many days its mean is the habits' own.
 * @param random the caller's generator: the same one gives the same days
 */
export function drawsOfDay(habits: Habits, random: Random): Draw[] {
  const draws: Draw[] = [];
  const day = habits.litresADay * (0.5 + 0.5 * (random() + random()));
  const put = (litres: number, when: When): void => {
    const spread = random() + random() - 1;
    let minute: number;
    if (when === 'meals') {
      const which = random();
      minute = (MEALS.find((m) => which < m.upTo) ?? MEALS[2]).minute + spread * 75;
    } else if (when === 'pot') {
      // nobody puts a stock pot on before breakfast
      minute = MEALS[random() < AT_NOON ? 1 : 2].minute + spread * 75;
    } else if (when === 'leaving') minute = LEAVES + spread * 50;
    else if (when === 'any') minute = 1439 * random();
    else minute = WAKES + ((spread + 1) / 2) * (SLEEPS - WAKES);
    draws.push({ minute: min(1439, max(0, round(minute))), litres });
  };
  const several = (dayL: number, litres: number, when: When): void => {
    // a part of a draw is a draw on some days
    const count = floor(dayL / litres + random());
    for (let i = 0; i < count; i++) put(litres, when);
  };
  const extra = extraLADay(habits);
  const extraShare = habits.litresADay > 0 ? min(EXTRA_MOST, extra / habits.litresADay) : 0;
  const meals = habits.mealsADay ?? USUAL_MEALS;
  const cooking = (COOKING_SHARE * meals) / USUAL_MEALS;
  const whole = 1 - COOKING_SHARE + cooking;
  const plain = ((1 - extraShare) * day) / whole;
  for (const k of KINDS) several((k.cooking ? cooking : k.share) * plain, k.litres, k.cooking ? 'meals' : 'waking');
  several(LARGE_SHARE * plain, habits.largestDrawL, 'pot');
  if (extra > 0) {
    const each = (extraShare * day) / extra;
    several(each * BOTTLE_L * (habits.bottlesADay ?? 0), BOTTLE_L, 'leaving');
    several(each * (habits.iceLADay ?? 0), ICE_L, 'any');
    several(each * (habits.secondTapLADay ?? 0), 0.25, 'waking');
  }
  return throughTheDay(draws);
}

/** As the day goes; of two at a minute the smaller first. */
export const throughTheDay = (draws: readonly Draw[]): Draw[] =>
  [...draws].sort((a, b) => a.minute - b.minute || a.litres - b.litres);

/** What a day of draws amounts to. */
export function dayTotals(draws: readonly Draw[]): { readonly litresADay: number; readonly largestDrawL: number } {
  return {
    litresADay: Number(draws.reduce((s, d) => s + d.litres, 0).toFixed(2)),
    largestDrawL: max(0, ...draws.map((d) => d.litres)),
  };
}

/** The same day with its litres brought to a total. @param litres above 0 */
export function scaledDay(draws: readonly Draw[], litres: number): Draw[] {
  const { litresADay } = dayTotals(draws);
  // what is a rounding apart is the same day
  const k = litresADay > 0 && abs(litres - litresADay) > 0.005 ? litres / litresADay : 1;
  return throughTheDay(k === 1 ? draws : draws.map((d) => ({ ...d, litres: d.litres * k })));
}
