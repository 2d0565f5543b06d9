import { FIELD_KEYS } from '../gauge/fields.ts';
import { siteFrom } from '../gauge/site.ts';
import { commissionedAt, scheduleOf } from '../flush/schedule.ts';
import { livesOf, type Life } from '../keep/life.ts';
import type { Design } from '../system/design.ts';
import type { Catalogue } from '../parts/catalogue.ts';
import type { HouseRules } from '../rules/rules.ts';
import { otherWay } from '../size/kinds/otherWay.ts';
import { referralReasons } from '../size/kinds/referral.ts';
import type { Fact } from './facts.ts';
import { isDone, readJob, type JobRecord, type TimerState } from './record.ts';
import { viewSystem } from './view.ts';

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

/** When a system began to work: its run sheet's last tick, or an earlier first proof or visit where it was taken over. */
export function startedMsOf(sheet: readonly { key: string }[], record: JobRecord): number | null {
  const done = commissionedAt(sheet, record);
  if (done !== null) return Date.parse(done);
  const first = [...record.visits, ...record.proofs].map((f) => Date.parse(f.at));
  return first.length > 0 && !Object.keys(record.ticks).length ? Math.min(...first) : null;
}

/** Says where a job stands and what is next, from its facts and its approved design. */
export function summarise(
  facts: readonly Fact[],
  design: Design | null,
  catalogue: Catalogue,
  rules: HouseRules,
  nowMs: number,
): JobSummary {
  const record = readJob(facts);
  const base = { timers: Object.values(record.timers), drinkableAtMs: null, lives: [], inService: false };
  if (!design) {
    const site = siteFrom(record.known, rules);
    const read = FIELD_KEYS.filter((k) => record.known[k] !== undefined).length;
    const referred = site.ok ? referralReasons(site.site, catalogue)[0] : undefined;
    if (referred !== undefined) return { ...base, lens: 'size', next: `Referred: ${referred}` };
    const other = site.ok ? otherWay(site.site, { known: record.known, catalogue, rules }) : null;
    if (other) return { ...base, lens: 'size', next: other.sentence };
    return site.ok
      ? { ...base, lens: 'size', next: `Decide and approve a design; ${String(read)} readings are in.` }
      : {
          ...base,
          lens: 'gauge',
          next: read === 0 ? 'First visit: gauge the house.' : `Gauge goes on: ${String(read)} readings are in.`,
        };
  }
  const system = viewSystem({ known: record.known, catalogue, rules }, design);
  if (!system.ok) return { ...base, lens: 'size', next: system.reason };
  const { sheet, worst, site } = system.view;
  const schedule = scheduleOf(sheet, record, nowMs);
  const startedMs = startedMsOf(sheet, record);
  if (startedMs === null) {
    const begun = sheet.some((s) => isDone(record, s.key));
    return {
      ...base,
      lens: begun ? 'flush' : 'plumb',
      next: begun ? (schedule.next?.title ?? 'Flush') : 'Put it in: pick list, holes, joints.',
      drinkableAtMs: begun ? schedule.drinkableAtMs : null,
    };
  }
  const lives = livesOf(system.view.system, record, startedMs, nowMs, site.litresADay, worst.wasteRatio, site);
  if (record.proofs.length === 0)
    return { ...base, lens: 'prove', next: 'Prove it: first readings.', lives, inService: true };
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
