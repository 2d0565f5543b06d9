import { bell, seeded } from '../demand/random.ts';

const { abs, exp, hypot, log, max, min, sqrt } = Math;
const YEAR_MS = 365.25 * 86_400_000;

/** A figure against a new element's at the same conditions, as it was read at a moment: 1 is new. */
export interface TrendPoint {
  readonly atMs: number;
  readonly value: number;
}

/** When a limit is met: the middle, and the band that holds it in nine of ten. */
export interface Meets {
  /** null where it is not met at this pace within a life of anything */
  readonly atMs: number | null;
  readonly earlyMs: number | null;
  readonly lateMs: number | null;
}

/** A line through the logarithms of what was read: an element loses, or lets by, a share of what it did each year. */
export interface Trend {
  /** change in a year, a share: -0.06 loses 6 % */
  readonly aYear: number;
  /** scatter of a single reading about the line, a share */
  readonly scatter: number;
  readonly meets: Meets;
  /** the line and the band that holds the true figure in nine of ten */
  readonly at: (ms: number) => { readonly value: number; readonly low: number; readonly high: number };
}

/** An element that makes less than this of what it did new is changed, a share. */
export const LEAST_FLOW = 0.7;

/** Readings fewer or closer together than this say nothing of the years. */
const LEAST_POINTS = 3;
const LEAST_YEARS = 0.25;
/** What a reading scatters where few were taken, a share, and for how many readings that counts. */
const USUAL_SCATTER = 0.06;
const USUAL_COUNTS = 4;
/** A reading further off the line than this counts less, standard deviations. */
const HUBER = 1.5;
const ROUNDS = 20;
const DRAWS = 2000;
/** Further away than this is never, years. */
const NEVER_YEARS = 25;

/** A weighted straight line: its height at the middle, its slope, and their variances for a scatter of 1. */
interface Fit {
  readonly middle: number;
  readonly height: number;
  readonly slope: number;
  readonly heightVar: number;
  readonly slopeVar: number;
}

function lineThrough(xs: readonly number[], ys: readonly number[], weights: readonly number[]): Fit {
  const sum = (f: (i: number) => number): number => weights.reduce((s, w, i) => s + w * f(i), 0);
  const total = sum(() => 1);
  const middle = sum((i) => xs[i] ?? 0) / total;
  const height = sum((i) => ys[i] ?? 0) / total;
  const wide = sum((i) => ((xs[i] ?? 0) - middle) ** 2);
  const slope = sum((i) => ((xs[i] ?? 0) - middle) * ((ys[i] ?? 0) - height)) / wide;
  return { middle, height, slope, heightVar: 1 / total, slopeVar: 1 / wide };
}

/** A robust line: readings far off it count less, so that one bad one does not turn it (Huber, by reweighting). */
function robust(xs: readonly number[], ys: readonly number[]): { fit: Fit; scatter: number; freedom: number } {
  let weights: readonly number[] = xs.map(() => 1);
  let fit = lineThrough(xs, ys, weights);
  let scatter = USUAL_SCATTER;
  const freedom = USUAL_COUNTS + xs.length - 2;
  for (let i = 0; i < ROUNDS; i++) {
    const off = xs.map((x, k) => (ys[k] ?? 0) - fit.height - fit.slope * (x - fit.middle));
    // what is usual stands for some readings; one far off tells of itself, not of the others
    const told = off.map((o) => min(abs(o), 2.5 * scatter) ** 2).reduce((a, b) => a + b, 0);
    scatter = sqrt((USUAL_COUNTS * USUAL_SCATTER ** 2 + told) / freedom);
    const limit = HUBER * scatter;
    weights = off.map((o) => (abs(o) <= limit ? 1 : limit / abs(o)));
    fit = lineThrough(xs, ys, weights);
  }
  return { fit, scatter, freedom };
}

const drawn = new Map<number, readonly (readonly [number, number])[]>();

/** Draws of Student's t with so many degrees of freedom, in pairs, the same each time; made once for each freedom. */
function draws(freedom: number): readonly (readonly [number, number])[] {
  const made = drawn.get(freedom);
  if (made) return made;
  const next = seeded(20_311);
  const pairs = Array.from({ length: DRAWS }, () => {
    const squares = Array.from({ length: freedom }, () => bell(next) ** 2).reduce((a, b) => a + b, 0);
    const spread = sqrt(freedom / max(1e-9, squares));
    return [bell(next) * spread, bell(next) * spread] as const;
  });
  drawn.set(freedom, pairs);
  return pairs;
}

/**
 * The proofs an element's trend is read of: since it last was changed, and none whose fault was mended after.
 * @param membranes its components
 */
export function ofOneElement<
  P extends { readonly id: string; readonly at: string; readonly mended?: { readonly proof: string } | undefined },
>(
  proofs: readonly P[],
  visits: readonly { readonly at: string; readonly on?: string | undefined; readonly changed: readonly string[] }[],
  membranes: readonly string[],
): P[] {
  const changes = visits
    .filter((v) => v.changed.some((c) => membranes.includes(c)))
    .map((v) => Date.parse(v.on ?? v.at));
  const since = max(-Infinity, ...changes);
  const mended = new Set(proofs.flatMap((p) => p.mended?.proof ?? []));
  return proofs.filter((p) => Date.parse(p.at) >= since && !mended.has(p.id));
}

/**
 * How a figure goes over the years, and when it meets a limit. The line is robust; its band has the readings' own scatter
 * and what is usual of a pen, a gauge and a jug.
 * @param points read of one element, ratios above 0, in any order
 * @param limit ratio, above 0
 * @returns null where too few were read, or within too short a time
 */
export function trendOf(points: readonly TrendPoint[], limit: number): Trend | null {
  const read = points.filter((p) => p.value > 0);
  const first = min(...read.map((p) => p.atMs));
  const xs = read.map((p) => (p.atMs - first) / YEAR_MS);
  if (read.length < LEAST_POINTS || max(...xs) < LEAST_YEARS) return null;
  const { fit, scatter, freedom } = robust(xs, read.map((p) => log(p.value))); // oxfmt-ignore
  const [heightSd, slopeSd] = [scatter * sqrt(fit.heightVar), scatter * sqrt(fit.slopeVar)];
  const falls = limit < 1;
  const goal = log(limit);
  /** years from the first reading to the limit; Infinity where it is never met */
  const years = (height: number, slope: number): number => {
    if (falls ? slope >= 0 : slope <= 0) return Infinity;
    const x = fit.middle + (goal - height) / slope;
    return x > NEVER_YEARS ? Infinity : x;
  };
  const dates = draws(freedom)
    .map(([a, b]) => years(fit.height + heightSd * a, fit.slope + slopeSd * b))
    .sort((a, b) => a - b);
  const ms = (x: number | undefined): number | null =>
    x === undefined || !Number.isFinite(x) ? null : first + x * YEAR_MS;
  const wide = dates.length;
  return {
    aYear: exp(fit.slope) - 1,
    scatter,
    meets: {
      atMs: ms(years(fit.height, fit.slope)),
      earlyMs: ms(dates[Math.floor(0.05 * wide)]),
      lateMs: ms(dates[Math.floor(0.95 * wide)]),
    },
    at: (at) => {
      const x = (at - first) / YEAR_MS - fit.middle;
      const y = fit.height + fit.slope * x;
      const band = student90(freedom) * hypot(heightSd, slopeSd * x);
      return { value: exp(y), low: exp(y - band), high: exp(y + band) };
    },
  };
}

/** Half-width of the 90 % band of Student's t, by Cornish and Fisher's expansion; freedom of 4 and above to 1 %. */
function student90(freedom: number): number {
  const z = 1.6449;
  return z + (z ** 3 + z) / (4 * freedom) + (5 * z ** 5 + 16 * z ** 3 + 3 * z) / (96 * freedom ** 2);
}
