import type { Life } from '../keep/life.ts';
import { CALL_BACK_DAYS, type ElementTold, type Tally } from './tally.ts';

const DAY_MS = 86_400_000;
/** The weeks behind that are counted, and the year behind. */
const WEEKS = 13;
const YEAR_DAYS = 365;
/** A delivery of fewer elements than this says nothing. */
const LEAST_OF_BATCH = 3;
/** A delivery whose salt passage grows so much faster a year than that of its kind is told, as an exponent. */
const AGES_FAST = 0.3;
/** Of those who were visited more than this call again within a month: something is done wrong. */
const MOST_CALL_BACKS = 0.1;

/** One house, as the firm's figures see it. */
export interface HouseTold {
  readonly jobId: string;
  readonly name: string;
  readonly tally: Tally;
  readonly lives: readonly Pick<Life, 'kind' | 'state'>[];
}

/** One kind of element, or one delivery of it. */
export interface BatchLine {
  readonly part: string;
  readonly batch: string;
  readonly houses: number;
  readonly changed: number;
  /** how long those that were changed stood, the middle one, days; null where none was */
  readonly stoodDays: number | null;
  /** salt passage grows by so much a year, a share, the middle one; null where too little was read */
  readonly saltAYear: number | null;
  /** it ages faster than its kind */
  readonly fast: boolean;
  /** houses where one still stands */
  readonly standsIn: readonly { readonly jobId: string; readonly name: string }[];
}

/** How the firm does. */
export interface FirmFigures {
  readonly inCare: number;
  readonly takenOut: number;
  readonly overdue: number;
  /** visits in each of the last weeks, the oldest first */
  readonly visitsByWeek: readonly number[];
  readonly visitsYear: number;
  readonly callsYear: number;
  readonly callBacksYear: number;
  /** installations proved within the year, and those of them that were right the first time */
  readonly provedYear: number;
  readonly rightYear: number;
  readonly batches: readonly BatchLine[];
  /** what to do about it, the most pressing first */
  readonly says: readonly string[];
}

function middle(all: readonly number[]): number | null {
  const sorted = [...all].sort((a, b) => a - b);
  const [a, b] = [sorted[Math.floor((sorted.length - 1) / 2)], sorted[Math.ceil((sorted.length - 1) / 2)]];
  return a === undefined || b === undefined ? null : (a + b) / 2;
}
const share = (exponent: number | null): number | null => (exponent === null ? null : Math.exp(exponent) - 1);

/** Elements by part and delivery, those that age fast first. */
function batchesOf(houses: readonly HouseTold[]): BatchLine[] {
  const all = houses.flatMap((h) => h.tally.elements.map((e) => ({ h, e })));
  const growth = (of: readonly { e: ElementTold }[]): number | null => middle(of.flatMap(({ e }) => e.saltAYear ?? []));
  const groups = new Map<string, typeof all>();
  for (const x of all) {
    const key = `${x.e.part}
${x.e.batch}`;
    groups.set(key, [...(groups.get(key) ?? []), x]);
  }
  const lines = [...groups.values()].flatMap((of): BatchLine[] => {
    const [one] = of;
    if (!one) return [];
    const { part, batch } = one.e;
    // held against the others of its kind
    const others = growth(all.filter(({ e }) => e.part === part && e.batch !== batch));
    const own = growth(of);
    const read = of.filter(({ e }) => e.saltAYear !== null).length;
    return [{
      part,
      batch,
      houses: new Set(of.map(({ h }) => h.jobId)).size,
      changed: of.filter(({ e }) => e.gone).length,
      stoodDays: middle(of.filter(({ e }) => e.gone).map(({ e }) => e.inDays)),
      saltAYear: share(own),
      fast: batch !== '' && read >= LEAST_OF_BATCH && own !== null && own > (others ?? 0) + AGES_FAST,
      standsIn: of.filter(({ e }) => !e.gone).map(({ h }) => ({ jobId: h.jobId, name: h.name })),
    }];
  });
  return lines.sort((a, b) => Number(b.fast) - Number(a.fast) || a.part.localeCompare(b.part) || b.houses - a.houses || a.batch.localeCompare(b.batch));
} // oxfmt-ignore

function saysOf(f: Omit<FirmFigures, 'says'>): string[] {
  const says: string[] = [];
  const n = (count: number, one: string, many: string): string => `${String(count)} ${count === 1 ? one : many}`;
  for (const b of f.batches.filter((x) => x.fast)) {
    const left = b.standsIn.length;
    says.push(
      `${b.part}, delivery ${b.batch}: salt passage grows by ${String(Math.round(100 * (b.saltAYear ?? 0)))} % a year, far faster than others of its kind. ${left === 0 ? 'None stands any more; ask for your money back.' : `It still stands in ${n(left, 'house', 'houses')}: read ${left === 1 ? 'it' : 'them'} next, and put in no more of it.`}`,
    );
  }
  if (f.overdue > 0)
    says.push(`${n(f.overdue, 'house is', 'houses are')} overdue: plan ${f.overdue === 1 ? 'it' : 'them'} from what is coming.`);
  if (f.visitsYear > 0 && f.callBacksYear / f.visitsYear > MOST_CALL_BACKS)
    says.push(`They called within ${String(CALL_BACK_DAYS)} days after ${String(f.callBacksYear)} of ${n(f.visitsYear, 'visit', 'visits')}: look at what was done on those.`);
  if (f.provedYear > 3 && f.rightYear / f.provedYear < 0.85)
    says.push(`Only ${String(f.rightYear)} of ${String(f.provedYear)} installations were right the first time: look at what the first proofs found.`);
  return says;
} // oxfmt-ignore

/** Adds up how the firm does. @param houses those that ever were in service @param nowMs the caller's clock */
export function firmFigures(houses: readonly HouseTold[], nowMs: number): FirmFigures {
  const within = (iso: string, days: number): boolean => {
    const ago = (nowMs - Date.parse(iso)) / DAY_MS;
    return ago >= 0 && ago < days;
  };
  const count = (of: (t: Tally) => readonly string[], days: number): number =>
    houses.reduce((s, h) => s + of(h.tally).filter((iso) => within(iso, days)).length, 0);
  const inCare = houses.filter((h) => !h.tally.out && h.tally.since !== null);
  const proved = houses.filter((h) => h.tally.since !== null && h.tally.firstRight !== null && within(h.tally.since, YEAR_DAYS));
  const upTo = Array.from({ length: WEEKS }, (_, i) => count((t) => t.visits, 7 * (WEEKS - i)));
  const figures = {
    inCare: inCare.length,
    takenOut: houses.filter((h) => h.tally.out).length,
    overdue: inCare.filter((h) => h.lives.some((l) => l.state === 'overdue' && l.kind !== 'membrane')).length,
    visitsByWeek: upTo.map((n, i) => n - (upTo[i + 1] ?? 0)),
    visitsYear: count((t) => t.visits, YEAR_DAYS),
    callsYear: count((t) => t.calls, YEAR_DAYS),
    callBacksYear: count((t) => t.callBacks, YEAR_DAYS),
    provedYear: proved.length,
    rightYear: proved.filter((h) => h.tally.firstRight === true).length,
    batches: batchesOf(houses),
  };
  return { ...figures, says: saysOf(figures) };
} // oxfmt-ignore
