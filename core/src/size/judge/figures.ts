import type { Site } from '../../gauge/site.ts';
import type { Design } from '../../system/design.ts';
import { findPart, partOf, type Catalogue } from '../../parts/catalogue.ts';
import type { Evaluation } from './evaluate.ts';
import { standsIn } from './room.ts';
import { wearsOut } from './year.ts';

/** What a household feels of a design, in its worst season and over a mean year; what designs are compared on. */
export interface DesignFigures {
  /** frame, tank and whatever stands beside them, mm; null where the shelf does not say */
  readonly roomMm: { readonly widthMm: number; readonly heightMm: number; readonly depthMm: number } | null;
  /** pump, delivery pump and lamp while they run, W; 0 for none */
  readonly powerW: number;
  readonly energyKWhYear: number;
  /** from empty to full, min; 0 without a tank */
  readonly refillMin: number;
  /** a quarter of a litre at the open tap, s */
  readonly glassS: number;
  /** at the tap from a full tank, L; 0 without one */
  readonly storeL: number;
  readonly makesLDay: number;
  /** litres to the drain for each litre made */
  readonly wasteRatio: number;
  /** the firm's money; null where no year was worked out */
  readonly costYear: number | null;
  /** before any minerals, mg/L */
  readonly tdsMgL: number;
  /** the first glass after a night, mg/L; null with a tank, which mixes it in */
  readonly firstGlassMgL: number | null;
  readonly minerals: boolean;
  /** cartridges, elements and lamps changed in a year */
  readonly changesYear: number;
  /** visits a firm makes for them: what is due until the next one is changed with what calls it out; one a year at the least */
  readonly visitsYear: number;
}

/** What a design comes to at a house, for comparing. */
export function designFigures(e: Evaluation, catalogue: Catalogue, site: Site): DesignFigures {
  const { design, worst, year } = e;
  const wear = wearsOut(design, catalogue, site, year?.wasteRatio ?? worst.wasteRatio);
  const tapFlow = Math.max(1e-6, worst.tapFlowLMin);
  return {
    roomMm: standsIn(design, catalogue),
    powerW: powerW(design, catalogue),
    energyKWhYear: year?.energyKWh ?? 0,
    refillMin: worst.direct ? 0 : worst.fill.minutes,
    glassS: (60 * 0.25) / tapFlow,
    storeL: worst.direct ? 0 : worst.usableL,
    makesLDay: worst.litresADay,
    wasteRatio: year?.wasteRatio ?? worst.wasteRatio,
    costYear: year?.cost ?? null,
    tdsMgL: year?.tdsMgL ?? worst.fill.tankTdsMgL,
    firstGlassMgL: worst.direct?.firstGlassTdsMgL ?? null,
    minerals: design.mineralId !== null,
    changesYear: wear.reduce((sum, w) => sum + (w.count * 365) / w.days, 0),
    visitsYear: Math.max(1, 365 / Math.min(365, ...wear.map((w) => w.days))),
  };
}

/** Pump, delivery pump and lamp while they run, W. */
export function powerW(design: Design, catalogue: Catalogue): number {
  const pump = design.pumpId === null ? 0 : partOf(catalogue, 'pump', design.pumpId).powerW;
  const lamp = design.lampId === null ? 0 : partOf(catalogue, 'lamp', design.lampId).powerW;
  const delivery = findPart(catalogue, design.deliveryPumpId);
  return pump + lamp + (delivery?.kind === 'delivery-pump' ? delivery.powerW : 0);
}
