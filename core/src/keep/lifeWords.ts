import { formatNumber, formatReading } from '../quantity/format.ts';
import type { Life } from './life.ts';
import type { LifeLimit, WornBy } from './limit.ts';

const n = formatNumber;

/** What each limit is, in words. */
const LIMIT_WORDS: Readonly<Record<WornBy, (at: number) => string>> = {
  calendar: (months) => `${formatReading(months)} months by its sheet`,
  proof: (days) => `half a year after its last proof, ${n(days, 3)} days after it went in`,
  hours: (hours) => `${formatReading(hours, 5)} hours by its sheet: it burns all day`,
  litres: (litres) => `${formatReading(litres, 5)} L by its sheet`,
  disinfectant: (mgL) => `what disinfects the water uses it up, at ${n(mgL, 2)} mg/L`,
  iron: (mgL) => `iron fills it, at ${n(mgL, 2)} mg/L`,
  calcite: (mgL) => `its calcite is dissolved, ${n(mgL, 2)} mg a litre`,
  pressure: (bar) => `the filters take ${n(bar, 2)} bar, and more each week`,
  unknown: () => 'nobody knows how old it is',
  found: (days) => `as the last one here was found, after ${n(days, 3)} days`,
};

/** A limit in words: what ends it, and after how long. */
export const limitWords = (l: LifeLimit): string => LIMIT_WORDS[l.by](l.at);

const MONTH = 30.44;
/** What would end it after this is not told: something else always does before. */
const NEVER_DAYS = 3650;
const months = (days: number): string => (days < 60 ? `${n(days, 2)} days` : `${n(days / MONTH, 2)} months`);

/** What ends it first, with its band where there is one, and what would end it after that. */
export function lifeSaid(l: Pick<Life, 'limits'>): { readonly first: string; readonly then: readonly string[] } {
  const [first, ...rest] = l.limits;
  if (!first) return { first: '', then: [] };
  const band = first.highDays > 1.02 * first.lowDays ? `: ${months(first.days)}, ${months(first.lowDays)} to ${months(first.highDays)}` : '';
  return { first: `${limitWords(first)}${band}`, then: rest.filter((r) => r.days < NEVER_DAYS).map((r) => (r.by === 'calendar' ? limitWords(r) : `${limitWords(r)}: ${months(r.days)}`)) };
} // oxfmt-ignore
