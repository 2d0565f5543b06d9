import { agentOf, bedOf } from '../system/carbon.ts';
import type { Part } from '../parts/catalogue.ts';
import { kindRow, type Chain, type KindRow } from '../parts/kinds.ts';
import type { Component, System } from '../system/system.ts';
import type { JobRecord } from '../record/record.ts';
import type { Site } from '../gauge/site.ts';
import { CAPACITY_G_PER_L } from '../treatment/carbon.ts';

const DAY_MS = 86400000;
/** Mean month, days. */
const MONTH_DAYS = 30.44;

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

/** Litres a day through a kind: pre-filters see the waste too, the product side only the product; a membrane is told by its product. */
export function throughputLDay(kind: string, productLDay: number, wasteRatio: number): number {
  const { chain, work }: { chain: Chain; work?: string } = kindRow(kind);
  return chain === 'feed' && work !== 'separates' ? productLDay * (1 + wasteRatio) : productLDay;
}

/** What the water carries that wears a cartridge. */
export type Carries = Pick<Site, 'ironMgL' | 'disinfectant' | 'chlorineMgL'>;

/**
 * Litres a cartridge lasts: its sheet's, or fewer where it fills with iron or is used up by what disinfects the water.
 * @returns Infinity where nothing says
 */
export function lifeLitres(part: Part, carries: Carries | null): number {
  const stated = part.life?.litres ?? Infinity;
  if (!carries) return stated;
  if (part.kind === 'iron' && carries.ironMgL > 0) return Math.min(stated, part.holdsIronMg / carries.ironMgL);
  if (part.kind === 'carbon') {
    const agent = agentOf(carries);
    if (agent === 'none') return stated;
    const bed = bedOf(part);
    return Math.min(
      stated,
      (1000 * CAPACITY_G_PER_L[agent][bed.kind] * bed.bedVolumeL) / Math.max(0.001, carries.chlorineMgL),
    );
  }
  return stated;
}

/** Something of a system that is used up, and how long one lasts in a house. */
export interface UsedUp {
  readonly component: Component;
  readonly part: Part;
  /** until it is changed, by calendar or litres, whichever comes first, days */
  readonly days: number;
  /** what a new one costs then, the firm's money; 0 for what is only cleaned */
  readonly price: number;
}

/**
 * What of a system is used up at a house's use.
 * @param productLDay litres a day the household uses, above 0
 * @param wasteRatio litres to the drain for each litre made, 0 or more
 */
export function usedUpIn(system: System, carries: Carries, productLDay: number, wasteRatio: number): UsedUp[] {
  return system.components.flatMap((component) => {
    const { part } = component;
    if (!part?.life) return [];
    const perDay = throughputLDay(component.kind, productLDay, wasteRatio);
    const days = Math.min(MONTH_DAYS * (part.life.months ?? Infinity), lifeLitres(part, carries) / perDay);
    const { serviced }: KindRow = kindRow(component.kind);
    return Number.isFinite(days) ? [{ component, part, days, price: serviced === true ? 0 : (part.price ?? 0) }] : [];
  });
}

/** Parts changed in a year of a system, the firm's money. */
export const changesCostYear = (all: readonly UsedUp[]): number =>
  all.reduce((s, u) => s + (u.price * 365) / u.days, 0);

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
