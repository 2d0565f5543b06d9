import { kindRow } from '../parts/kinds.ts';
import type { JobRecord } from '../facts/record.ts';
import { partIn, type System } from '../system/system.ts';
import { litreLimits, MONTH_DAYS, throughputLDay, type Carries } from '../system/wear.ts';
import type { LifeLimit, WornBy } from './limit.ts';
import { foundLimit, pressureLimit } from './ownRecord.ts';

const DAY_MS = 86400000;

/** When one thing that wears falls due. */
export interface Due {
  readonly componentId: string;
  readonly kind: string;
  readonly label: string;
  readonly partName: string;
  /** on the shelf */
  readonly partId: string;
  readonly sinceMs: number;
  readonly dueMs: number;
  readonly by: WornBy;
  readonly state: 'overdue' | 'soon' | 'good';
}

/** The life of one thing that wears. */
export interface Life extends Due {
  /** the band of when it is due */
  readonly earlyMs: number;
  readonly lateMs: number;
  /** used up to now, 0 to 1 and beyond */
  readonly used: number;
  readonly litresSoFar: number;
  /** every way it may end, the first to come first */
  readonly limits: readonly LifeLimit[];
  readonly why: string;
}

/** What a list needs of a life; the due moment in whole ms. */
export const dueOf = ({ componentId, kind, label, partName, partId, sinceMs, dueMs, by, state }: Life): Due => ({
  componentId, kind, label, partName, partId, sinceMs, dueMs: Math.round(dueMs), by, state,
}); // oxfmt-ignore

/** A change due within these days is shown among the next ones. */
export const SOON_DAYS = 30;

/** What the life of one thing hangs on, without a clock. */
export interface LifeSpan {
  readonly componentId: string;
  readonly kind: string;
  readonly label: string;
  readonly partName: string;
  readonly partId: string;
  /** when it, or what stood there before it, began to work, ms */
  readonly beganMs: number;
  /** when it was changed, ms */
  readonly changesMs: readonly number[];
  /** the first to come first; at least one */
  readonly limits: readonly LifeLimit[];
  readonly litresADay: number;
  readonly why: string;
}

/** What goes through a system in a day, and what that carries. */
export interface Wearing {
  /** litres a day the household uses, above 0 */
  readonly productLDay: number;
  /** whether somebody said how much they use; else it is taken by their number */
  readonly said: boolean;
  /** litres to the drain for each litre made, 0 or more */
  readonly wasteRatio: number;
  /** what wears cartridges beyond their sheet; null where it is not known */
  readonly carries: Carries | null;
  /** calcite that a litre takes out of a mineral bed, mg; null where it is not known */
  readonly dissolvedMgL: number | null;
}

/** What of a record lives hang on. */
export type LivedRecord = Pick<JobRecord, 'visits' | 'proofs' | 'cameOut' | 'happened'>;

/** A household uses less or more than it says, or than its number lets one think: so many times, in nine of ten. */
const USES = { said: { low: 0.75, high: 1.35 }, byNumber: { low: 0.6, high: 1.7 } } as const;

/** Taken as due at once. */
const UNKNOWN_AGE: LifeLimit = { by: 'unknown', days: 1, lowDays: 1, highDays: 1, at: 0 };

/** A membrane past its date is read again so long after its last proof, days. */
const LOOKED_AT_DAYS = 182;

/** What ends one thing in a house: its sheet, its hours, its water, its own record. @param provedDays a membrane was proved last so long after it went in; null for what is not proved */
function limitsOf(
  c: System['components'][number],
  perDay: number,
  wearing: Wearing,
  provedDays: number | null,
): LifeLimit[] {
  const { part } = c;
  if (!part) return [];
  const limits: LifeLimit[] = [];
  const months = part.life?.months;
  if (months !== undefined) {
    const days = months * MONTH_DAYS;
    const read = provedDays === null ? 0 : provedDays + LOOKED_AT_DAYS;
    // past its date it lives by its readings, as long as it is read
    limits.push(
      read > days
        ? { by: 'proof', days: read, lowDays: read, highDays: read, at: provedDays ?? 0 }
        : { by: 'calendar', days, lowDays: days, highDays: days, at: months },
    );
  }
  // it burns all day: water is never to pass it while it warms up
  if (part.kind === 'lamp') {
    const days = part.lamp.lifeHours / 24;
    limits.push({ by: 'hours', days, lowDays: days, highDays: days, at: part.lamp.lifeHours });
  }
  if (perDay <= 0) return limits;
  const uses = wearing.said ? USES.said : USES.byNumber;
  for (const { by, litres, low, high, at } of litreLimits(part, wearing.carries, wearing.dissolvedMgL)) {
    // two doubts that have nothing to do with each other: as far off as both together
    const early = Math.exp(-Math.hypot(Math.log(uses.high), Math.log(litres / low)));
    const late = Math.exp(Math.hypot(Math.log(uses.low), Math.log(high / litres)));
    const days = litres / perDay;
    limits.push({ by, days, lowDays: days * early, highDays: days * late, at });
  }
  return limits;
}

/**
 * What everything that wears in a system lives by, each with its band: its sheet, its hours, the litres through it and what they
 * carry, the pressure it takes, and how it was found in this house.
 * @param startedMs when the system, or each component, began to work; what has not has no life yet
 */
export function lifeSpans(
  system: System,
  record: LivedRecord,
  startedMs: number | ((component: string) => number | null),
  wearing: Wearing,
): LifeSpan[] {
  // what a pump adds between the gauges hides what the filters take
  const read = partIn(system, 'pump') ? [] : record.proofs;
  // what somebody else put in is as old as nobody knows, until it is changed
  const adopted = record.happened.some((h) => h.event === 'adopted');
  const last = record.proofs.at(-1);
  // one that was found bad puts nothing off
  const provedAfter = (sinceMs: number): number | null =>
    last && last.judged?.grade !== 'act' && Date.parse(last.at) > sinceMs ? (Date.parse(last.at) - sinceMs) / DAY_MS : null;
  return system.components.flatMap((c): LifeSpan[] => {
    const why = kindRow(c.kind).wear;
    const beganMs = typeof startedMs === 'number' ? startedMs : startedMs(c.id);
    if (why === undefined || !c.part?.life || beganMs === null) return [];
    const { wasteRatio, productLDay } = wearing;
    const perDay = throughputLDay(c.kind, productLDay, Number.isFinite(wasteRatio) ? wasteRatio : 0);
    const changesMs = record.visits.filter((v) => v.changed.includes(c.id)).map((v) => Date.parse(v.on ?? v.at));
    const own = [
      foundLimit(record.cameOut.filter((f) => f.component === c.id), beganMs, changesMs),
      c.kind === 'sediment' ? pressureLimit(read, Math.max(beganMs, ...changesMs)) : null,
      adopted && changesMs.length === 0 ? UNKNOWN_AGE : null,
    ];
    const limits = [...limitsOf(c, perDay, wearing, c.kind === 'membrane' ? provedAfter(Math.max(beganMs, ...changesMs)) : null), ...own.filter((l) => l !== null)].sort((a, b) => a.days - b.days);
    if (limits.length === 0) return [];
    return [{ componentId: c.id, kind: c.kind, label: c.slot, partName: c.part.name, partId: c.part.id, beganMs, changesMs, limits, litresADay: perDay, why }];
  });
} // oxfmt-ignore

/** A life as it stands at a moment: whatever comes first ends it. @param nowMs the caller's clock */
export function lifeAt(s: LifeSpan, nowMs: number): Life {
  const sinceMs = Math.max(s.beganMs, ...s.changesMs.filter((ms) => ms <= nowMs));
  const days = Math.max(0, (nowMs - sinceMs) / DAY_MS);
  const first = (of: (l: LifeLimit) => number): number => Math.min(...s.limits.map(of));
  const lifeDays = first((l) => l.days);
  const at = (d: number): number => sinceMs + d * DAY_MS;
  const left = (at(lifeDays) - nowMs) / DAY_MS;
  const { componentId, kind, label, partName, partId, limits, why } = s;
  return {
    componentId,
    kind,
    label,
    partName,
    partId,
    sinceMs,
    dueMs: at(lifeDays),
    earlyMs: at(first((l) => l.lowDays)),
    lateMs: at(first((l) => l.highDays)),
    by: limits[0]?.by ?? 'calendar',
    used: days / lifeDays,
    litresSoFar: days * s.litresADay,
    limits,
    state: left < 0 ? 'overdue' : left <= SOON_DAYS ? 'soon' : 'good',
    why,
  };
}

/** Lives of everything that wears in a system, as they stand now; see `lifeSpans`. @param nowMs the caller's clock */
export const livesOf = (
  system: System,
  record: LivedRecord,
  startedMs: number | ((component: string) => number | null),
  nowMs: number,
  wearing: Wearing,
): Life[] => lifeSpans(system, record, startedMs, wearing).map((s) => lifeAt(s, nowMs));
