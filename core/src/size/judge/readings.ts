import { numberOf, type FieldKey, type Known } from '../../gauge/fields.ts';
import type { Assumed, Site } from '../../gauge/site.ts';

/** Error of an ordinary reading, and of a figure that was only assumed: an absolute part and a share of the value. */
const ERRORS: Readonly<Partial<Record<FieldKey, { read: [number, number]; assumed: [number, number] }>>> = {
  runningPressureBar: { read: [0.1, 0], assumed: [0.4, 0] },
  staticPressureBar: { read: [0.1, 0], assumed: [0.4, 0] },
  highestPressureBar: { read: [0.1, 0], assumed: [0.5, 0] },
  switchLowBar: { read: [0.1, 0], assumed: [0.4, 0] },
  switchHighBar: { read: [0.1, 0], assumed: [0.4, 0] },
  temperatureC: { read: [0.5, 0], assumed: [3, 0] },
  coldestC: { read: [1, 0], assumed: [3, 0] },
  warmestC: { read: [1, 0], assumed: [3, 0] },
  feedTdsMgL: { read: [2, 0.04], assumed: [0, 0.3] },
  hardnessMgL: { read: [5, 0.05], assumed: [10, 0.3] },
  alkalinityMgL: { read: [5, 0.05], assumed: [10, 0.25] },
  pH: { read: [0.2, 0], assumed: [0.4, 0] },
  silicaMgL: { read: [1, 0.1], assumed: [2, 0.5] },
  nitrateMgL: { read: [2, 0.1], assumed: [5, 0.5] },
  litresADay: { read: [0, 0.15], assumed: [0, 0.3] },
  largestDrawL: { read: [0, 0.1], assumed: [0, 0.25] },
  tapLengthM: { read: [0.1, 0.05], assumed: [0.5, 0.2] },
  fridgeLengthM: { read: [0.2, 0.05], assumed: [1, 0.4] },
  tapRiseM: { read: [0.05, 0], assumed: [0.2, 0] },
  cupboardWidthMm: { read: [5, 0], assumed: [50, 0] },
  cupboardDepthMm: { read: [5, 0], assumed: [50, 0] },
  cupboardHeightMm: { read: [5, 0], assumed: [50, 0] },
};

/** Half-width of what a figure may really be, in its base unit: two standard deviations. */
export function readingError(field: FieldKey, value: number, assumed: boolean): number {
  const e = ERRORS[field];
  const [fixed, share] = e ? (assumed ? e.assumed : e.read) : [0, 0.05];
  return fixed + share * Math.abs(value);
}

/** The readings a pressure of a house may stand on, the first there is: behind a well it is a setting of its switch. */
const STANDS_ON: Readonly<Partial<Record<FieldKey, readonly FieldKey[]>>> = {
  runningPressureBar: ['switchLowBar'],
  switchLowBar: ['switchLowBar', 'staticPressureBar'],
  staticPressureBar: ['staticPressureBar', 'switchHighBar', 'switchLowBar'],
  highestPressureBar: ['switchHighBar', 'staticPressureBar'],
};

/** Half-width of a house's own figure: by its meter where it was read, else as wide as a guess. @param errors of readings whose meter is known */
export function figureError(
  field: FieldKey,
  value: number,
  known: Known,
  site: Pick<Site, 'source'>,
  assumed: readonly Assumed[],
  errors: Partial<Record<FieldKey, number>> | undefined,
): { readonly error: number; readonly assumed: boolean } {
  const from = (site.source === 'well' ? STANDS_ON[field] : undefined) ?? [field];
  const read = from.find((f) => numberOf(known, f) !== undefined);
  const guessed = read === undefined || assumed.some((a) => a.field === read);
  const meter = guessed ? undefined : errors?.[read];
  return { error: meter ?? readingError(read ?? field, value, guessed), assumed: guessed };
}
