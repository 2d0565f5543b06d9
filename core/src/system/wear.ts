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

/** What ends a cartridge by the water that has passed it. */
export type WornByWater = 'litres' | 'disinfectant' | 'iron' | 'calcite';

/** Litres after which something ends it, with the band that holds it in about nine of ten. */
export interface LitreLimit {
  readonly by: WornByWater;
  readonly litres: number;
  readonly low: number;
  readonly high: number;
  /** what it hangs on: mg/L of what loads it, or dissolves; litres by its sheet */
  readonly at: number;
}

/** A strip's or a drop kit's reading of what loads a cartridge is off by about so much, a share. */
const READ_OFF = 0.25;
/** What an iron cartridge holds depends on the iron's form: less or more by so much, a share. */
const HOLDS_OFF = 0.25;
/** The capacities of carbon are on the low side of common practice: it may hold so many times as much. */
const CARBON_MAY_HOLD = 2;
/** Of a bed of calcite is dissolved before what is left gives the water too little time, a share. */
const CALCITE_USED = { low: 0.5, middle: 0.65, high: 0.8 } as const;
/** Calcite, g of a litre of solid grain. */
const CALCITE_G_L = 2710;
/** What loads a cartridge below this is nothing to speak of, mg/L. */
const NOTHING_MGL = 0.001;

/**
 * What ends a cartridge by the litres through it: its sheet, and what the water carries or dissolves.
 * @param dissolvedMgL calcite that a litre takes out of a mineral bed, 0 or more; null where it is not known
 */
export function litreLimits(part: Part, carries: Carries | null, dissolvedMgL: number | null = null): LitreLimit[] {
  const limits: LitreLimit[] = [];
  const stated = part.life?.litres;
  if (stated !== undefined) limits.push({ by: 'litres', litres: stated, low: stated, high: stated, at: stated });
  const off = Math.hypot(READ_OFF, HOLDS_OFF);
  if (carries && part.kind === 'iron' && carries.ironMgL > NOTHING_MGL) {
    const litres = part.holdsIronMg / carries.ironMgL;
    limits.push({ by: 'iron', litres, low: litres / (1 + off), high: litres * (1 + off), at: carries.ironMgL });
  }
  const agent = carries ? agentOf(carries) : 'none';
  if (carries && part.kind === 'carbon' && agent !== 'none') {
    const bed = bedOf(part);
    const mgL = Math.max(NOTHING_MGL, carries.chlorineMgL);
    const litres = (1000 * CAPACITY_G_PER_L[agent][bed.kind] * bed.bedVolumeL) / mgL;
    limits.push({ by: 'disinfectant', litres, low: litres / (1 + READ_OFF), high: CARBON_MAY_HOLD * litres * (1 + READ_OFF), at: mgL });
  }
  if (dissolvedMgL !== null && dissolvedMgL > NOTHING_MGL && part.kind === 'mineral' && part.bed) {
    const { litres, voidage } = part.bed;
    const of = (share: number): number => (1000 * CALCITE_G_L * litres * (1 - voidage) * share) / dissolvedMgL;
    limits.push({ by: 'calcite', litres: of(CALCITE_USED.middle), low: of(CALCITE_USED.low), high: of(CALCITE_USED.high), at: dissolvedMgL });
  }
  return limits;
} // oxfmt-ignore

/**
 * Litres a cartridge lasts: its sheet's, or fewer where it fills with iron or is used up by what disinfects the water.
 * @returns Infinity where nothing says
 */
export const lifeLitres = (part: Part, carries: Carries | null): number =>
  Math.min(Infinity, ...litreLimits(part, carries).map((l) => l.litres));

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
