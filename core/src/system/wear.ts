import type { Site } from '../gauge/site.ts';
import type { Part } from '../parts/catalogue.ts';
import { kindRow, type Chain, type KindRow } from '../parts/kinds.ts';
import { CAPACITY_G_PER_L } from '../treatment/carbon.ts';
import { agentOf, bedOf } from './carbon.ts';
import type { Component, System } from './system.ts';

/** Mean month, days. */
export const MONTH_DAYS = 30.44;

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
