import { drinkableAt, type BeforeDrinking } from '../flush/schedule.ts';
import { DRINK_CAUSE_CODES, drinkCauseRow, type DrinkAnswer, type DrinkCause, type Meanwhile } from './causes.ts';

/** Something that stands against drinking in one house. */
export interface Against {
  readonly code: DrinkCause;
  /** what it is about, in words that complete the cause's sentence */
  readonly about?: string | undefined;
  /** it holds from then on, ms since 1970; from the beginning where it is left out */
  readonly fromMs?: number | undefined;
  /** a laboratory's answer is expected by then, ms since 1970 */
  readonly expectedMs?: number | undefined;
}

/** What the judgement rests on, without a clock: it is kept beside a job and read at any moment. */
export interface DrinkBasis {
  readonly against: readonly Against[];
  /** steps and clocks before the first glass; null where nothing is in hand, or no time can be told */
  readonly before: readonly BeforeDrinking[] | null;
  /** what is done before the first glass of the work in hand, a sentence each */
  readonly workFirst: readonly string[];
  /** whether the house's own water may be drunk as it comes, boiled, or not at all */
  readonly own: Meanwhile;
  /** what stays to be heeded by those who drink, a sentence each */
  readonly heed: readonly string[];
}

/** One cause as it is told. */
export interface ToldCause {
  readonly code: DrinkCause;
  readonly is: string;
  readonly first: readonly string[];
  /** a laboratory's answer is expected by then, ms since 1970 */
  readonly expectedMs: number | null;
}

/** Whether a household may drink, and why not. */
export interface MayDrink {
  readonly answer: DrinkAnswer;
  /** "not yet": the earliest moment, ms since 1970, if work goes on as planned; null where nobody can name one */
  readonly atMs: number | null;
  /** the gravest first; empty with "yes" */
  readonly causes: readonly ToldCause[];
  /** what they drink until then; null with "yes" */
  readonly meanwhile: Meanwhile | null;
  readonly heed: readonly string[];
}

const RANK: Readonly<Record<Meanwhile, number>> = { own: 0, boil: 1, bottled: 2 };
const GRAVITY: Readonly<Record<DrinkAnswer, number>> = { yes: 0, 'not-yet': 1, unknown: 2, no: 3 };

/** The stricter of two ways to drink meanwhile: what is boiled against microbes does not rid it of what is dissolved. */
export const stricter = (a: Meanwhile, b: Meanwhile): Meanwhile => (RANK[b] > RANK[a] ? b : a);

/**
 * Whether a household may drink at a moment. The only place that decides it: every clock, sheet, letter, list and page reads
 * this. It says "yes" only with nothing against it, and never that water is safe.
 * @param nowMs the caller's clock, ms since 1970
 */
export function mayDrink(basis: DrinkBasis, nowMs: number): MayDrink {
  const holding = basis.against.filter((a) => a.fromMs === undefined || a.fromMs <= nowMs);
  if (holding.length === 0) return { answer: 'yes', atMs: null, causes: [], meanwhile: null, heed: basis.heed };
  const answer = holding
    .map((a) => drinkCauseRow(a.code).answer)
    .reduce<DrinkAnswer>((worst, a) => (GRAVITY[a] > GRAVITY[worst] ? a : worst), 'yes');
  const ordered = [...holding].sort((a, b) => DRINK_CAUSE_CODES.indexOf(a.code) - DRINK_CAUSE_CODES.indexOf(b.code));
  return {
    answer,
    atMs: answer === 'not-yet' ? earliestMs(holding, basis, nowMs) : null,
    causes: ordered.map((a) => told(a, basis)),
    meanwhile: holding.map((a) => drinkCauseRow(a.code).meanwhile).reduce(stricter, basis.own),
    heed: basis.heed,
  };
}

/** Whether a cause ends with the steps of the work in hand. */
const isOfWork = (code: DrinkCause): boolean => code === 'work' || code === 'not-put-in';

/** The earliest moment at which all that holds is over; null where one of them has no time of its own. */
function earliestMs(holding: readonly Against[], { before }: DrinkBasis, nowMs: number): number | null {
  const each = holding.map((a) =>
    isOfWork(a.code) ? drinkableAt(before, nowMs) : a.expectedMs === undefined ? null : Math.max(nowMs, a.expectedMs),
  );
  return each.some((ms) => ms === null) ? null : Math.max(...each.map((ms) => ms ?? nowMs));
}

function told({ code, about, expectedMs }: Against, { workFirst }: DrinkBasis): ToldCause {
  const row = drinkCauseRow(code);
  return {
    code,
    is: row.is.replace('{}', about ?? 'water'),
    first: isOfWork(code) && workFirst.length > 0 ? workFirst : [row.first],
    expectedMs: expectedMs ?? null,
  };
}

/** What they drink until then, in a sentence. */
export const MEANWHILE_WORDS: Readonly<Record<Meanwhile, string>> = {
  own: 'Until then: water from the kitchen’s ordinary cold tap.',
  boil: 'Until then: water boiled for a minute, also for ice, teeth and infants’ food, or bottled water.',
  bottled: 'Until then: bottled water, also for cooking, ice and infants. Boiling does not help.',
};

/** Who is spoken to. */
export type DrinkReader = 'firm' | 'household';

/** The judgement in a headline. @param when words for a moment, in the reader's own form */
export function drinkHeadline(
  { answer, atMs }: Pick<MayDrink, 'answer' | 'atMs'>,
  reader: DrinkReader,
  when: (ms: number) => string,
): string {
  const who = reader === 'firm' ? 'They' : 'You';
  if (answer === 'yes') return `${who} may drink it now`;
  if (answer === 'no') return `${reader === 'firm' ? 'They must' : 'Do'} not drink it`;
  if (answer === 'unknown') return 'Not for drinking: nobody knows yet whether it may be drunk';
  return atMs === null ? 'Not for drinking yet' : `Not for drinking before ${when(atMs)}`;
}
