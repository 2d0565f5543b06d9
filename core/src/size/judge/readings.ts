import type { FieldKey } from '../../gauge/fields.ts';

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
