import type { JobRecord } from '../facts/record.ts';
import { samplesOf, soughtRow, WATER_WORDS, type Sample } from '../keep/sample.ts';
import type { Against } from './mayDrink.ts';

const DAY_MS = 86_400_000;
/** A clean sample behind a lamp is good for a year; one that is a quarter later than that says nothing any more, days. */
const SAMPLE_GOOD_DAYS = 365 + 91;
/** A sample taken on the day before something was put in belongs to the same visit, ms. */
const SAME_VISIT_MS = DAY_MS;

/** Whether a later answer lifts what was found: a clean one of the same water, or of the water at the tap. */
const lifts = (later: Sample, found: Sample): boolean =>
  later.answer?.finding === 'clean' &&
  later.sought === found.sought &&
  (later.water === found.water || later.water === 'product') &&
  later.atMs >= found.atMs;

/** What laboratories found against drinking, and nothing has lifted. */
export function findingsAgainst(record: Pick<JobRecord, 'sampled' | 'answered' | 'lampSamples'>): Against[] {
  const answered = samplesOf(record).filter((s) => s.answer !== null);
  const found = answered.filter((s, i) => s.answer?.finding === 'not-clean' && !answered.slice(i + 1).some((x) => lifts(x, s)));
  return found.map((s) =>
    s.sought === 'microbes'
      ? { code: 'microbes-found', about: WATER_WORDS[s.water] }
      : { code: 'limit-exceeded', about: `${WATER_WORDS[s.water]} (${soughtRow(s.sought).label})` },
  );
} // oxfmt-ignore

/**
 * What the sample behind a lamp says: not taken, not answered, too old.
 * @param sinceMs the lamp was put in, ms since 1970: what was sampled before is of another system
 */
export function lampSampleAgainst(record: Pick<JobRecord, 'sampled' | 'answered' | 'lampSamples'>, sinceMs: number): Against[] {
  const mine = samplesOf(record).filter((s) => s.water === 'product' && s.sought === 'microbes' && s.atMs >= sinceMs - SAME_VISIT_MS);
  const last = mine.at(-1);
  const answered = mine.findLast((s) => s.answer !== null);
  if (!last) return [{ code: 'lamp-unsampled' }];
  if (!answered) return [{ code: 'lamp-awaited', expectedMs: last.dueMs }];
  // what was found unclean is told as a finding
  return [{ code: 'sample-old', fromMs: answered.atMs + SAMPLE_GOOD_DAYS * DAY_MS }];
} // oxfmt-ignore
