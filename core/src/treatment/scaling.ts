import { carbonateOf, type CarbonateSystem } from '../water/carbonate.ts';
import { waterState, type Analysis, type WaterState } from '../water/analysis.ts';
import { composition } from '../water/composition.ts';
import { calciteIndex, gypsumSaturation, langelierIndex, silicaSolubilityMgL } from '../water/saturation.ts';
import { CACO3, CACO3_PER_MEQ, mapAmounts, SPECIES } from '../water/species.ts';

const { exp, max, min } = Math;

/** How near a water is to dropping what it holds. */
export interface Saturation {
  readonly tdsMgL: number;
  readonly pH: number;
  readonly langelierIndex: number | null;
  readonly calciteSaturationIndex: number | null;
  /** share of gypsum's solubility product, 1 at saturation */
  readonly gypsumSaturation: number;
  /** share of amorphous silica's solubility, 1 at saturation */
  readonly silicaSaturation: number;
}

/** What is still borne. */
export interface ScalingLimits {
  /** calcite index in the concentrate at the wall */
  readonly calciteIndexMax: number;
  readonly gypsumMax: number;
  readonly silicaMax: number;
}

/**
 * Defaults: gypsum and silica at saturation (ASTM D4692, D4993). Calcite 1.0: plants without dosing hold 0 and with it
 * up to about 1.8 (ASTM D3739); a domestic element works by the hour, is rinsed at each start and changed after years.
 */
export const SCALING_LIMITS: ScalingLimits = { calciteIndexMax: 1, gypsumMax: 1, silicaMax: 1 };

/** A feed ready to be concentrated. */
export type Feed = WaterState;

/** Works a feed out once, so that many recoveries can be asked of it. */
export function scalingFeed(a: Analysis): Feed {
  return waterState(a);
}

/**
 * The feed concentrated: ions by (1 - recovery x passage)/(1 - recovery) times the wall's polarisation, CO2 as it was
 * (it passes the membrane), pH from both.
 * @param recovery 0 to 0.95; @param passage share of the salt that passes, 0 to 1
 * @param polarisation 1 for the bulk of the concentrate
 */
export function concentrated(
  feed: Feed,
  recovery: number,
  passage: number,
  polarisation: number,
  temperatureC: number,
): Saturation {
  const factor = concentrationFactor(recovery, passage) * polarisation;
  const c = composition(mapAmounts(feed.composition.molL, (v) => v * factor));
  const bicarbonate = feed.carbonate.hco3 + 2 * feed.carbonate.co3;
  const alkalinity = bicarbonate * factor;
  // carbon: what the alkalinity holds at the feed's pH, thickened, and the CO2 that is neither held back nor lost
  const held = (feed.carbonate.hco3 + feed.carbonate.co3) * factor;
  const system: CarbonateSystem = carbonateOf(feed.carbonate.co2 + held, alkalinity, temperatureC, c.ionicStrengthMolL);
  const calcium = c.molL.Ca ?? 0;
  const tdsMgL = feed.tdsMgL * factor;
  return {
    tdsMgL,
    pH: system.pH,
    langelierIndex: langelierIndex(
      system.pH,
      temperatureC,
      tdsMgL,
      calcium * CACO3 * 1000,
      alkalinity * 1000 * CACO3_PER_MEQ,
    ),
    calciteSaturationIndex: calciteIndex(calcium, system, temperatureC, c.ionicStrengthMolL),
    gypsumSaturation: gypsumSaturation(calcium, c.molL.SO4 ?? 0, temperatureC, c.ionicStrengthMolL),
    silicaSaturation: ((c.molL.SiO2 ?? 0) * SPECIES.SiO2.molarMass * 1000) / silicaSolubilityMgL(temperatureC),
  };
}

/** How often thicker the concentrate is than the feed. */
export function concentrationFactor(recovery: number, passage: number): number {
  return (1 - recovery * passage) / (1 - recovery);
}

/** Polarisation at the wall where it is highest, the channel's end, by exp(0.7 J A/Q) with the concentrate's flow. */
export function wallPolarisation(recovery: number): number {
  return min(4, exp((0.7 * recovery) / (1 - recovery)));
}

export interface SafeRecovery {
  /** largest share of the feed that may be kept, 0 to 0.9 */
  readonly recovery: number;
  /** what sets it; null where nothing does up to 0.9 */
  readonly limitedBy: 'calcite' | 'gypsum' | 'silica' | null;
}

function limitOf(s: Saturation, l: ScalingLimits): SafeRecovery['limitedBy'] {
  const over = [
    { by: 'calcite' as const, miss: (s.calciteSaturationIndex ?? -9) - l.calciteIndexMax },
    { by: 'gypsum' as const, miss: Math.log10(max(1e-9, s.gypsumSaturation / l.gypsumMax)) },
    { by: 'silica' as const, miss: Math.log10(max(1e-9, s.silicaSaturation / l.silicaMax)) },
  ].sort((a, b) => b.miss - a.miss)[0];
  return over && over.miss > 0 ? over.by : null;
}

/** The largest recovery at which the wall stays within the limits, by bisection: saturation rises with recovery. */
export function safeRecovery(
  feed: Feed,
  passage: number,
  temperatureC: number,
  limits: ScalingLimits = SCALING_LIMITS,
): SafeRecovery {
  const at = (r: number): SafeRecovery['limitedBy'] =>
    limitOf(concentrated(feed, r, passage, wallPolarisation(r), temperatureC), limits);
  const most = 0.9;
  const end = at(most);
  if (end === null) return { recovery: most, limitedBy: null };
  const first = at(0);
  if (first !== null) return { recovery: 0, limitedBy: first };
  let low = 0;
  let high = most;
  let limitedBy = end;
  for (let n = 0; n < 20; n++) {
    const mid = 0.5 * (low + high);
    const by = at(mid);
    if (by === null) low = mid;
    else {
      high = mid;
      limitedBy = by;
    }
  }
  return { recovery: low, limitedBy };
}
