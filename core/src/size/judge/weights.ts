import type { Care } from '../../gauge/site.ts';
import type { HouseRules } from '../../rules/rules.ts';

/** Points each thing is worth; lower points are better. */
export interface Weights {
  /** a socket, noise, one more thing to fail */
  readonly pump: number;
  readonly permeatePump: number;
  readonly furtherElement: number;
  readonly perWasteLitre: number;
  readonly perRefillHour: number;
  /** at the tap, for the largest draw */
  readonly perTapMinute: number;
  readonly perTankLitre: number;
  readonly perProductMgL: number;
  readonly perYearCost: number;
  /** for the whole way from `nearScaleFrom` of the safe recovery up to it: readings are never exact */
  readonly nearScale: number;
  /** points taken off for each whole multiple of the need the design can make, up to three */
  readonly spare: number;
  /** for each hundredth of what was only guessed of the household that is missed; see `needsOf` */
  readonly perMissed: number;
}

/** The even preset: what an installer without a leaning would say each is worth. */
export const EVEN: Weights = {
  pump: 25,
  permeatePump: 12,
  furtherElement: 12,
  perWasteLitre: 5,
  perRefillHour: 3,
  perTapMinute: 1.2,
  perTankLitre: 1,
  perProductMgL: 0.25,
  perYearCost: 0.1,
  nearScale: 12,
  spare: 3,
  perMissed: 0.8,
};

/** Share of the safe recovery from which nearness to scale costs points. */
export const NEAR_SCALE_FROM = 0.8;
/** How many times over counts what the household itself cares for most. */
const CARE_FACTOR = 4;

/** How many times over a preset counts what it leans to. */
const LEANINGS: Readonly<Record<HouseRules['worth'], Partial<Record<keyof Weights, number>>>> = {
  even: {},
  sparing: { perWasteLitre: 2.5 },
  plain: { pump: 2, permeatePump: 2, furtherElement: 2 },
  quick: { perRefillHour: 2.5, perTapMinute: 2.5, spare: 1.5 },
  small: { perTankLitre: 2.5, furtherElement: 1.5 },
};

const made = new Map<HouseRules['worth'], Weights>();

/** The weights of a firm's preset. */
export function weightsOf({ worth }: Pick<HouseRules, 'worth'>): Weights {
  const known = made.get(worth);
  if (known) return known;
  const leaning = LEANINGS[worth];
  const weights: { -readonly [K in keyof Weights]: number } = { ...EVEN };
  for (const k of Object.keys(EVEN) as (keyof Weights)[]) weights[k] *= leaning[k] ?? 1;
  made.set(worth, weights);
  return weights;
}

/** How often each figure counts in a household. */
export function careOf(site: { readonly caresMost: Care }): (care: Care) => number {
  return (care) => (site.caresMost === care ? CARE_FACTOR : 1);
}

/** What a thing is worth in the firm's money a year, by what a crown of running cost counts. */
export const moneyOf = (points: number, weights: Weights): number => points / weights.perYearCost;
