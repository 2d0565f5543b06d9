import { agentOf, bedOf } from '../system/carbon.ts';
import type { Line, LineElement, Role } from '../system/line.ts';
import { findPart, type Catalogue, type Part } from '../parts/catalogue.ts';
import type { JobRecord } from '../record/record.ts';
import type { Site } from '../gauge/site.ts';
import { CAPACITY_G_PER_L } from '../treatment/carbon.ts';

const DAY_MS = 86400000;
/** Mean month, days. */
const MONTH_DAYS = 30.44;

/** One cartridge's life. */
export interface Life {
  readonly elementId: string;
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

/** Litres a day through an element: pre-filters and membrane see the waste too, the product side only the product. */
export function throughputLDay(role: Role, productLDay: number, wasteRatio: number): number {
  const feedSide = role === 'sediment' || role === 'iron' || role === 'carbon';
  return feedSide ? productLDay * (1 + wasteRatio) : productLDay;
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

/** Why a change matters, by role. */
function whyOf(e: LineElement): string {
  switch (e.role) {
    case 'sediment':
      return 'clogged it starves the membrane of pressure';
    case 'carbon':
      return 'late, chlorine reaches the membrane and the damage adds up';
    case 'membrane':
      return 'by its rejection and flow; this date is when to look hard';
    case 'iron':
      return 'full, iron reaches the membrane and stays there';
    case 'lamp':
      return 'its light fades long before it goes out';
    case 'mineral':
      return 'spent, the water attacks metal again';
    default:
      return 'taste';
  }
}

/**
 * Life of every cartridge of a Line: by calendar and by litres, whichever is first.
 * @param startedMs when the system began to work
 * @param nowMs the caller's clock
 * @param productLDay litres a day the household uses
 * @param wasteRatio litres to the drain for each litre made
 * @param carries what wears cartridges beyond their sheet; null where it is not known
 */
export function livesOf(
  line: Line,
  catalogue: Catalogue,
  record: Pick<JobRecord, 'visits'>,
  startedMs: number,
  nowMs: number,
  productLDay: number,
  wasteRatio: number,
  carries: Carries | null = null,
): Life[] {
  return line.elements.flatMap((e) => {
    const part = findPart(catalogue, e.partId);
    if (!part?.life || (part.life.months === undefined && !Number.isFinite(lifeLitres(part, carries)))) return [];
    const changes = record.visits.filter((v) => v.changed.includes(e.id)).map((v) => Date.parse(v.at));
    const sinceMs = Math.max(startedMs, ...changes);
    const days = Math.max(0, (nowMs - sinceMs) / DAY_MS);
    const perDay = throughputLDay(e.role, productLDay, Number.isFinite(wasteRatio) ? wasteRatio : 0);
    const byCalendar = part.life.months === undefined ? Infinity : part.life.months * MONTH_DAYS;
    const litres = lifeLitres(part, carries);
    const byLitres = perDay <= 0 ? Infinity : litres / perDay;
    const lifeDays = Math.min(byCalendar, byLitres);
    const dueMs = sinceMs + lifeDays * DAY_MS;
    const left = (dueMs - nowMs) / DAY_MS;
    const same = line.elements.filter((x) => x.role === e.role);
    return [
      {
        elementId: e.id,
        label: same.length > 1 ? `${e.label} ${String(same.indexOf(e) + 1)}` : e.label,
        partName: part.name,
        sinceMs,
        dueMs,
        by: byLitres < byCalendar ? ('litres' as const) : ('calendar' as const),
        used: days / lifeDays,
        litresSoFar: days * perDay,
        litresLife: Number.isFinite(litres) ? litres : null,
        monthsLife: part.life.months ?? null,
        state: left < 0 ? ('overdue' as const) : left <= SOON_DAYS ? ('soon' as const) : ('good' as const),
        why: whyOf(e),
      },
    ];
  });
}
