import { alkalinityEqL, carbonateAt, carbonateOf, co2MgL, type CarbonateSystem } from './carbonate.ts';
import { composition, osmoticPressureBar, type Composition } from './composition.ts';
import { conductivityUSCm } from './conductivity.ts';
import { calciteIndex, langelierIndex } from './saturation.ts';
import { CACO3, CACO3_PER_MEQ, charges, hardnessMgL, SPECIES, toMgL, toMolL, type Amounts } from './species.ts';

const { abs, max } = Math;

/** What is known of a water. mg/L; alkalinity as CaCO3. */
export interface Analysis {
  /** 0 to 60 */
  readonly temperatureC: number;
  /** 3 to 12 */
  readonly pH: number;
  /** 0 to 5000 */
  readonly alkalinityMgL: number;
  readonly ionsMgL: Amounts;
  /** measured; wins over the sum of ions */
  readonly tdsMgL?: number | undefined;
}

/** Why a figure of an analysis is taken. */
export type AssumedWhy =
  | 'from-alkalinity'
  | 'closes-charges'
  | 'usual-in-source'
  | 'softener-leaves'
  | 'share-of-hardness'
  | 'usual-make-up';

/** A figure nobody measured, with why it was taken. */
export interface AssumedFigure {
  readonly field: string;
  readonly value: number;
  readonly why: AssumedWhy;
}

/** What in an analysis contradicts itself, with its figures. */
export type WaterDoubt =
  | { readonly code: 'imbalance'; readonly percent: number; readonly closed: boolean }
  | { readonly code: 'tds-against-ions'; readonly tdsMgL: number; readonly ionsMgL: number }
  | {
      readonly code: 'alkalinity-against-bicarbonate';
      readonly bicarbonateMgL: number;
      readonly asAlkalinityMgL: number;
      readonly alkalinityMgL: number;
    }
  | { readonly code: 'much-co2'; readonly pH: number; readonly co2MgL: number }
  | { readonly code: 'high-ph-hard' | 'soft-but-alkaline' };

/** A water worked out. */
export interface WaterState {
  readonly composition: Composition;
  readonly carbonate: CarbonateSystem;
  readonly tdsMgL: number;
  readonly hardnessMgL: number;
  readonly osmoticPressureBar: number;
  readonly conductivityUSCm: number;
  readonly co2MgL: number;
  readonly langelierIndex: number | null;
  readonly calciteSaturationIndex: number | null;
  /** (cations - anions) / (cations + anions) as given, before anything was put in to balance, percent */
  readonly imbalancePercent: number;
  readonly assumed: readonly AssumedFigure[];
  readonly doubts: readonly WaterDoubt[];
}

/**
 * Closes an analysis: bicarbonate from the alkalinity where it is left out; where sodium or chloride is left out and its
 * charge is what is missing, that one makes it neutral. Nothing that was measured is changed; what imbalance is left is
 * reported, never refused.
 */
export function completeAnalysis(a: Analysis): {
  readonly composition: Composition;
  readonly imbalancePercent: number;
  readonly assumed: AssumedFigure[];
} {
  const assumed: AssumedFigure[] = [];
  const molL: Partial<Record<keyof Amounts, number>> = { ...toMolL(a.ionsMgL) };
  if (molL.HCO3 === undefined && a.alkalinityMgL > 0) {
    // carbonate listed beside it already holds its own share of the alkalinity
    molL.HCO3 = max(0, alkalinityEqL(a.alkalinityMgL) - 2 * (molL.CO3 ?? 0));
    assumed.push({
      field: 'HCO3',
      value: molL.HCO3 * SPECIES.HCO3.molarMass * 1000,
      why: 'from-alkalinity',
    });
  }
  const { cations, anions } = charges(molL);
  const total = cations + anions;
  const imbalancePercent = total > 0 ? (100 * (cations - anions)) / total : 0;
  const missing = anions - cations;
  if (missing > 1e-9 && molL.Na === undefined) {
    molL.Na = missing;
    assumed.push({ field: 'Na', value: missing * SPECIES.Na.molarMass * 1000, why: 'closes-charges' });
  } else if (missing < -1e-9 && molL.Cl === undefined) {
    molL.Cl = -missing;
    assumed.push({ field: 'Cl', value: -missing * SPECIES.Cl.molarMass * 1000, why: 'closes-charges' });
  }
  return { composition: composition(molL), imbalancePercent, assumed };
}

/** Works an analysis out: balance, carbonate system, saturation, conductivity, osmotic pressure; and doubts it. */
export function waterState(a: Analysis): WaterState {
  const { composition: c, imbalancePercent, assumed } = completeAnalysis(a);
  const tdsMgL = a.tdsMgL ?? c.tdsMgL;
  const carbonate = carbonateAt(a.pH, alkalinityEqL(a.alkalinityMgL), a.temperatureC, c.ionicStrengthMolL);
  const calcium = c.molL.Ca ?? 0;
  const closed = assumed.some((x) => x.field === 'Na' || x.field === 'Cl');
  return {
    composition: c,
    carbonate,
    tdsMgL,
    hardnessMgL: hardnessMgL(c.molL),
    osmoticPressureBar: osmoticPressureBar(c, a.temperatureC),
    conductivityUSCm: conductivityUSCm(c),
    co2MgL: co2MgL(carbonate),
    langelierIndex: langelierIndex(a.pH, a.temperatureC, tdsMgL, calcium * CACO3 * 1000, a.alkalinityMgL),
    calciteSaturationIndex: calciteIndex(calcium, carbonate, a.temperatureC, c.ionicStrengthMolL),
    imbalancePercent,
    assumed,
    doubts: analysisDoubts(a, c, carbonate, imbalancePercent, closed),
  };
}

function analysisDoubts(
  a: Analysis,
  c: Composition,
  carbonate: CarbonateSystem,
  imbalancePercent: number,
  closed: boolean,
): WaterDoubt[] {
  const out: WaterDoubt[] = [];
  if (abs(imbalancePercent) > 5) out.push({ code: 'imbalance', percent: imbalancePercent, closed });
  if (a.tdsMgL !== undefined && c.tdsMgL > 0 && abs(a.tdsMgL / c.tdsMgL - 1) > 0.15)
    out.push({ code: 'tds-against-ions', tdsMgL: a.tdsMgL, ionsMgL: c.tdsMgL });
  const given = a.ionsMgL.HCO3;
  if (given !== undefined && a.alkalinityMgL > 0) {
    const asAlkalinityMgL = (given / SPECIES.HCO3.molarMass) * CACO3_PER_MEQ;
    if (abs(asAlkalinityMgL / a.alkalinityMgL - 1) > 0.1 && (a.ionsMgL.CO3 ?? 0) === 0)
      out.push({
        code: 'alkalinity-against-bicarbonate',
        bicarbonateMgL: given,
        asAlkalinityMgL,
        alkalinityMgL: a.alkalinityMgL,
      });
  }
  const co2 = co2MgL(carbonate);
  if (co2 > 150) out.push({ code: 'much-co2', pH: a.pH, co2MgL: co2 });
  if (a.pH > 9.5 && (c.molL.Ca ?? 0) > 1e-3) out.push({ code: 'high-ph-hard' });
  const hardness = hardnessMgL(c.molL);
  if (hardness > 0 && hardness < 30 && a.alkalinityMgL > 150) out.push({ code: 'soft-but-alkaline' });
  return out;
}

/** Kinds of source and the pH, alkalinity share and silica that are usual in them; always shown as assumed. */
const BY_SOURCE: Readonly<Record<string, { pH: number; alkalinityShare: number; silicaMgL: number; NO3: number }>> = {
  mains: { pH: 7.6, alkalinityShare: 0.8, silicaMgL: 8, NO3: 10 },
  'softened-mains': { pH: 7.6, alkalinityShare: 0.8, silicaMgL: 8, NO3: 10 },
  well: { pH: 7.2, alkalinityShare: 0.85, silicaMgL: 15, NO3: 15 },
  surface: { pH: 7.6, alkalinityShare: 0.7, silicaMgL: 6, NO3: 4 },
  rain: { pH: 6, alkalinityShare: 0.4, silicaMgL: 0.5, NO3: 1 },
};

/** What an installer may have read of a water, mg/L; the rest is taken by kind of source. */
export interface FewFigures {
  readonly source: string;
  readonly tdsMgL: number;
  /** as CaCO3 */
  readonly hardnessMgL: number;
  readonly temperatureC: number;
  readonly pH?: number | undefined;
  /** as CaCO3 */
  readonly alkalinityMgL?: number | undefined;
  readonly silicaMgL?: number | undefined;
  readonly nitrateMgL?: number | undefined;
}

/**
 * A full analysis from few figures: the make-up usual for the source, scaled to the hardness and the TDS, electroneutral,
 * every figure that was not read listed as assumed.
 */
export function analysisFrom(f: FewFigures): {
  readonly analysis: Analysis;
  readonly assumed: readonly AssumedFigure[];
} {
  const kind = BY_SOURCE[f.source] ?? { pH: 7.6, alkalinityShare: 0.8, silicaMgL: 8, NO3: 10 };
  const assumed: AssumedFigure[] = [];
  const take = (field: string, read: number | undefined, value: number, why: AssumedWhy): number => {
    if (read !== undefined) return read;
    assumed.push({ field, value, why });
    return value;
  };
  const pH = take('pH', f.pH, kind.pH, 'usual-in-source');
  const softened = f.source === 'softened-mains';
  // a softener changes hardness for sodium and leaves the alkalinity: it follows the TDS, not the hardness
  const base = softened ? 0.45 * f.tdsMgL : f.hardnessMgL;
  const alkalinityMgL = take(
    'alkalinityMgL',
    f.alkalinityMgL,
    Math.min(kind.alkalinityShare * base, 0.62 * f.tdsMgL),
    softened ? 'softener-leaves' : 'share-of-hardness',
  );
  const SiO2 = Math.min(0.1 * f.tdsMgL, take('SiO2', f.silicaMgL, kind.silicaMgL, 'usual-in-source'));
  const NO3 = Math.min(0.1 * f.tdsMgL, take('NO3', f.nitrateMgL, kind.NO3, 'usual-in-source'));
  const hard = f.hardnessMgL / CACO3 / 1000;
  const eq = alkalinityEqL(alkalinityMgL);
  const known = {
    Ca: 0.75 * hard,
    Mg: 0.25 * hard,
    HCO3: eq,
    SiO2: SiO2 / SPECIES.SiO2.molarMass / 1000,
    NO3: NO3 / SPECIES.NO3.molarMass / 1000,
  };
  const { cations, anions } = charges(known);
  // close the charges with sodium, or with chloride and sulphate 3:1; what is left of the TDS is salt of the same
  const short = anions - cations;
  const closing = short >= 0 ? { Na: short, Cl: 0, SO4: 0 } : { Na: 0, Cl: -0.75 * short, SO4: (-0.25 * short) / 2 };
  const sofar = composition({ ...known, ...closing }).tdsMgL;
  const perEquivalent = SPECIES.Na.molarMass + 0.75 * SPECIES.Cl.molarMass + 0.125 * SPECIES.SO4.molarMass;
  const salt = max(0, f.tdsMgL - sofar) / 1000 / perEquivalent;
  const molL = {
    ...known,
    Na: closing.Na + salt,
    Cl: closing.Cl + 0.75 * salt,
    SO4: closing.SO4 + 0.125 * salt,
  };
  assumed.push({
    field: 'ions',
    value: f.tdsMgL,
    why: 'usual-make-up',
  });
  return {
    analysis: { temperatureC: f.temperatureC, pH, alkalinityMgL, ionsMgL: toMgL(molL), tdsMgL: f.tdsMgL },
    assumed,
  };
}

/**
 * What a membrane lets through of the carbonate system: CO2 in full, bicarbonate by its own passage.
 * @param feed the feed's system, mol/L
 * @param bicarbonatePassage share of the feed's bicarbonate in the product, 0 to 1
 * @param ionicStrengthMolL of the product
 * @returns the product's system; about pH 6 from hard mains
 */
export function productCarbonate(
  feed: CarbonateSystem,
  bicarbonatePassage: number,
  temperatureC: number,
  ionicStrengthMolL: number,
): CarbonateSystem {
  const alkalinity = max(0, (feed.hco3 + 2 * feed.co3) * bicarbonatePassage);
  return carbonateOf(feed.co2 + alkalinity, alkalinity, temperatureC, ionicStrengthMolL);
}
