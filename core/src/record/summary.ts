import { FIELD_KEYS } from '../gauge/fields.ts';
import { siteFrom } from '../gauge/site.ts';
import { scheduleOf } from '../flush/schedule.ts';
import type { Life } from '../keep/life.ts';
import type { Catalogue } from '../parts/catalogue.ts';
import type { HouseRules } from '../rules/rules.ts';
import { otherWay } from '../size/kinds/otherWay.ts';
import { referralReasons } from '../size/kinds/referral.ts';
import type { Fact } from './facts.ts';
import { isDone, readJob, type JobRecord, type TimerState } from './record.ts';
import { asBuilt, livesAsBuilt } from './asBuilt.ts';
import type { DesignVersion } from './version.ts';

export type Lens = 'gauge' | 'size' | 'plumb' | 'flush' | 'prove' | 'keep';
export const LENSES: readonly Lens[] = ['gauge', 'size', 'plumb', 'flush', 'prove', 'keep'];

/** Where a job stands, for the day's round. */
export interface JobSummary {
  /** the part of the job that is next */
  readonly lens: Lens;
  readonly next: string;
  readonly timers: readonly TimerState[];
  readonly drinkableAtMs: number | null;
  readonly lives: readonly Life[];
  readonly inService: boolean;
}

/** Says where a job stands and what is next, from its facts and the versions of its design. */
export function summarise(
  facts: readonly Fact[],
  versions: readonly DesignVersion[],
  catalogue: Catalogue,
  rules: HouseRules,
  nowMs: number,
): JobSummary {
  const built = asBuilt(versions, facts);
  if (!built) return undecided(readJob(facts), catalogue, rules);
  const { version, record } = built;
  const base = { timers: Object.values(record.timers), drinkableAtMs: null, lives: [], inService: false };
  const schedule = scheduleOf(version.sheet, record, nowMs);
  if (!built.inService) {
    const begun = version.sheet.some((s) => isDone(record, s.key));
    return {
      ...base,
      lens: begun ? 'flush' : 'plumb',
      next: begun
        ? (schedule.next?.title ?? 'Flush')
        : version.number === 1
          ? 'Put it in: pick list, holes, joints.'
          : `Put version ${String(version.number)} in: what is new, and its flush.`,
      drinkableAtMs: begun ? schedule.drinkableAtMs : null,
    };
  }
  const lives = livesAsBuilt(built, nowMs);
  if (!record.proofs.some((p) => p.design === version.id) && (version.number === 1 || version.sheet.length > 0))
    return {
      ...base,
      lens: 'prove',
      next: record.proofs.length === 0 ? 'Prove it: first readings.' : 'Prove it again: parts were changed.',
      lives,
      inService: true,
    };
  const overdue = lives.filter((l) => l.state === 'overdue').map((l) => l.label);
  const soon = lives.filter((l) => l.state === 'soon').map((l) => l.label);
  const next =
    overdue.length > 0
      ? `Overdue: ${overdue.join(', ')}.`
      : soon.length > 0
        ? `Due within a month: ${soon.join(', ')}.`
        : 'Nothing due.';
  return { ...base, lens: 'keep', next, lives, inService: true };
}

/** Before anything is approved: what is read, what is missing, what is referred. */
function undecided(record: JobRecord, catalogue: Catalogue, rules: HouseRules): JobSummary {
  const base = {
    timers: Object.values(record.timers),
    drinkableAtMs: null,
    lives: [],
    inService: false,
  };
  const site = siteFrom(record.known, rules);
  const read = FIELD_KEYS.filter((k) => record.known[k] !== undefined).length;
  if (!site.ok)
    return {
      ...base,
      lens: 'gauge',
      next: read === 0 ? 'First visit: gauge the house.' : `Gauge goes on: ${String(read)} readings are in.`,
    };
  const referred = referralReasons(site.site, catalogue)[0];
  if (referred !== undefined) return { ...base, lens: 'size', next: `Referred: ${referred}` };
  const other = otherWay(site.site, { known: record.known, catalogue, rules });
  return {
    ...base,
    lens: 'size',
    next: other?.sentence ?? `Decide and approve a design; ${String(read)} readings are in.`,
  };
}
