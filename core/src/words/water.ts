import type { AssumedFigure, AssumedWhy, WaterDoubt } from '../water/analysis.ts';

const round = (v: number): string => String(Number(v.toPrecision(3)));

const WHY: Readonly<Record<AssumedWhy, string>> = {
  'from-alkalinity': 'from the alkalinity, taken in full as bicarbonate',
  'closes-charges': 'what the charges are short of',
  'usual-in-source': 'usual in such a source',
  'softener-leaves': 'about a third of the TDS: a softener leaves it',
  'share-of-hardness': 'the usual share of the hardness',
  'usual-make-up': 'calcium to magnesium 3:1, chloride to sulphate 3:1 by charge, sodium to balance, scaled to the TDS read',
}; // oxfmt-ignore

/** Why a figure of an analysis was taken that nobody read. @param source named where it is what is usual in it */
export function assumedFigureWords(a: AssumedFigure, source?: string): string {
  return a.why === 'usual-in-source' && a.field === 'pH' && source !== undefined ? `${WHY[a.why]} (${source})` : WHY[a.why]; // oxfmt-ignore
}

/** What in an analysis contradicts itself, in a sentence. */
export function waterDoubtWords(d: WaterDoubt): string {
  switch (d.code) {
    case 'imbalance':
      return d.closed
        ? `As given, cations and anions differ by ${round(d.percent)} %: taken as ions that were not measured.`
        : `Cations and anions differ by ${round(d.percent)} %, more than the 5 % of a careful analysis: one of them is off.`;
    case 'tds-against-ions':
      return `TDS ${round(d.tdsMgL)} mg/L against ${round(d.ionsMgL)} mg/L for the sum of ions: a residue at 180 °C counts bicarbonate by half, a meter has its own factor, or ions are missing.`;
    case 'alkalinity-against-bicarbonate':
      return `Bicarbonate ${round(d.bicarbonateMgL)} mg/L is an alkalinity of ${round(d.asAlkalinityMgL)} mg/L as CaCO3, not ${round(d.alkalinityMgL)}.`;
    case 'much-co2':
      return `pH ${round(d.pH)} with this alkalinity means ${round(d.co2MgL)} mg/L CO2: was the pH read in the field?`;
    case 'high-ph-hard':
      return 'Hard water above pH 9.5 would have dropped its calcium: pH or hardness is off.';
    case 'soft-but-alkaline':
      return 'Soft yet alkaline: softened water, or hardness written in grains or degrees. Check the unit.';
  }
}
