import { kindRow } from '../parts/kinds.ts';
import type { JobRecord } from '../facts/record.ts';
import type { System } from '../system/system.ts';
import { lifeLitres, MONTH_DAYS, throughputLDay, type Carries } from '../system/wear.ts';

const DAY_MS = 86400000;

/** The life of one thing that wears. */
export interface Life {
  readonly componentId: string;
  readonly kind: string;
  readonly label: string;
  readonly partName: string;
  readonly sinceMs: number;
  readonly dueMs: number;
  readonly by: 'calendar' | 'litres';
  /** used up to now, 0 to 1 and beyond */
  readonly used: number;
  readonly litresSoFar: number;
  readonly litresLife: number | null;
  readonly monthsLife: number | null;
  readonly state: 'overdue' | 'soon' | 'good';
  readonly why: string;
}

/** A change due within these days is shown among the next ones. */
export const SOON_DAYS = 30;

/** What the life of one thing hangs on, without a clock: dates, litres and days. */
export interface LifeSpan {
  readonly componentId: string;
  readonly kind: string;
  readonly label: string;
  readonly partName: string;
  /** when it, or what stood there before it, began to work, ms */
  readonly beganMs: number;
  /** when it was, or will be, changed, ms */
  readonly changesMs: readonly number[];
  readonly byCalendarDays: number | null;
  readonly byLitresDays: number | null;
  readonly litresADay: number;
  readonly litresLife: number | null;
  readonly monthsLife: number | null;
  readonly why: string;
}

/**
 * What everything that wears in a system lives by: the calendar and litres.
 * @param startedMs when the system, or each component, began to work; what has not has no life yet
 * @param productLDay litres a day the household uses
 * @param wasteRatio litres to the drain for each litre made
 * @param carries what wears cartridges beyond their sheet; null where it is not known
 */
export function lifeSpans(
  system: System,
  record: Pick<JobRecord, 'visits'>,
  startedMs: number | ((component: string) => number | null),
  productLDay: number,
  wasteRatio: number,
  carries: Carries | null = null,
): LifeSpan[] {
  return system.components.flatMap((c): LifeSpan[] => {
    const { part } = c;
    const why = kindRow(c.kind).wear;
    const beganMs = typeof startedMs === 'number' ? startedMs : startedMs(c.id);
    if (why === undefined || !part?.life || beganMs === null) return [];
    const litres = lifeLitres(part, carries);
    const finite = Number.isFinite(litres);
    if (part.life.months === undefined && !finite) return [];
    const perDay = throughputLDay(c.kind, productLDay, Number.isFinite(wasteRatio) ? wasteRatio : 0);
    return [
      {
        componentId: c.id,
        kind: c.kind,
        label: c.slot,
        partName: part.name,
        beganMs,
        changesMs: record.visits.filter((v) => v.changed.includes(c.id)).map((v) => Date.parse(v.on ?? v.at)),
        byCalendarDays: part.life.months === undefined ? null : part.life.months * MONTH_DAYS,
        byLitresDays: perDay > 0 && finite ? litres / perDay : null,
        litresADay: perDay,
        litresLife: finite ? litres : null,
        monthsLife: part.life.months ?? null,
        why,
      },
    ];
  });
}

/** A life as it stands at a moment: whichever of calendar and litres is first. @param nowMs the caller's clock */
export function lifeAt(s: LifeSpan, nowMs: number): Life {
  const sinceMs = Math.max(s.beganMs, ...s.changesMs.filter((ms) => ms <= nowMs));
  const days = Math.max(0, (nowMs - sinceMs) / DAY_MS);
  const byCalendar = s.byCalendarDays ?? Infinity;
  const byLitres = s.byLitresDays ?? Infinity;
  const lifeDays = Math.min(byCalendar, byLitres);
  const dueMs = sinceMs + lifeDays * DAY_MS;
  const left = (dueMs - nowMs) / DAY_MS;
  const { componentId, kind, label, partName, litresLife, monthsLife, why } = s;
  return {
    componentId,
    kind,
    label,
    partName,
    sinceMs,
    dueMs,
    by: byLitres < byCalendar ? 'litres' : 'calendar',
    used: days / lifeDays,
    litresSoFar: days * s.litresADay,
    litresLife,
    monthsLife,
    state: left < 0 ? 'overdue' : left <= SOON_DAYS ? 'soon' : 'good',
    why,
  };
}

/** Lives of everything that wears in a system, as they stand now; see `lifeSpans`. @param nowMs the caller's clock */
export function livesOf(
  system: System,
  record: Pick<JobRecord, 'visits'>,
  startedMs: number | ((component: string) => number | null),
  nowMs: number,
  productLDay: number,
  wasteRatio: number,
  carries: Carries | null = null,
): Life[] {
  return lifeSpans(system, record, startedMs, productLDay, wasteRatio, carries).map((s) => lifeAt(s, nowMs));
}
