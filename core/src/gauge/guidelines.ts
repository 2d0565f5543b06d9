import { signOfSheet, type LabColumns, type LabRow } from './lab.ts';
import { squeeze, wholeNames } from './labNames.ts';
import { labNumber, type DecimalSign } from './labNumber.ts';

/** A substance with a value it is held to in drinking water. */
interface Guideline {
  readonly key: string;
  readonly name: string;
  /** as laboratories write it, lower case without blanks; matched whole, or its beginning where of four letters or more */
  readonly names: readonly string[];
  /** mg/L; of PFAS the sum */
  readonly limitMgL: number;
  /** harm to health, or taste, smell and stains */
  readonly of: 'health' | 'taste';
  readonly source: string;
  /** what a reverse osmosis system of this kind is known to do with it */
  readonly held: string;
}

const WHO = 'WHO guideline value, 2022';
const TASTE = 'WHO, by taste or stains';
const WELL = 'A membrane holds back nine tenths and more of it, as long as it is whole.';

/**
 * Substances of the WHO Guidelines for drinking-water quality (4th edition with both addenda, 2022) that household reports
 * bring, with what thin-film membranes hold back by published trials (EPA treatability database; NSF/ANSI 58 reductions).
 */
const GUIDELINES: readonly Guideline[] = [
  { key: 'As', name: 'Arsenic', names: ['arsenic', 'as', 'arsen', 'arsénico', 'arsenico'], limitMgL: 0.01, of: 'health', source: WHO, held: 'Arsenate is held back by nine tenths; arsenite, as in wells without air, by half only: oxidise it first, and sample the product.' },
  { key: 'Pb', name: 'Lead', names: ['lead', 'pb', 'blei', 'plomb', 'plomo', 'piombo', 'lood'], limitMgL: 0.01, of: 'health', source: WHO, held: `${WELL} It often comes from the pipe or tap itself: sample the first water too, and no lead behind the system.` },
  { key: 'Cd', name: 'Cadmium', names: ['cadmium', 'cd', 'kadmium', 'cadmio'], limitMgL: 0.003, of: 'health', source: WHO, held: WELL },
  { key: 'Cr', name: 'Chromium', names: ['chromium', 'cr', 'chrom', 'chrome', 'cromo'], limitMgL: 0.05, of: 'health', source: WHO, held: WELL },
  { key: 'Hg', name: 'Mercury', names: ['mercury', 'hg', 'quecksilber', 'mercure', 'mercurio'], limitMgL: 0.006, of: 'health', source: WHO, held: 'Most of it is held back, organic mercury less: sample the product.' },
  { key: 'Ni', name: 'Nickel', names: ['nickel', 'ni', 'níquel', 'nichel'], limitMgL: 0.07, of: 'health', source: WHO, held: WELL },
  { key: 'Cu', name: 'Copper', names: ['copper', 'cu', 'kupfer', 'cuivre', 'cobre', 'rame'], limitMgL: 2, of: 'health', source: WHO, held: `${WELL} Copper behind the system brings it back.` },
  { key: 'U', name: 'Uranium', names: ['uranium', 'u', 'uran', 'uranio'], limitMgL: 0.03, of: 'health', source: WHO, held: WELL },
  { key: 'Se', name: 'Selenium', names: ['selenium', 'se', 'selen', 'sélénium', 'selenio'], limitMgL: 0.04, of: 'health', source: WHO, held: WELL },
  { key: 'Sb', name: 'Antimony', names: ['antimony', 'sb', 'antimon', 'antimoine', 'antimonio'], limitMgL: 0.02, of: 'health', source: WHO, held: 'Most of it is held back: sample the product.' },
  { key: 'Ba', name: 'Barium', names: ['barium', 'ba', 'baryum', 'bario'], limitMgL: 1.3, of: 'health', source: WHO, held: WELL },
  { key: 'B', name: 'Boron', names: ['boron', 'b', 'bor', 'bore', 'boro'], limitMgL: 2.4, of: 'health', source: WHO, held: 'A membrane holds back only a third to two thirds of it below pH 9.' },
  { key: 'F', name: 'Fluoride', names: ['fluoride', 'f', 'fluorid', 'fluorure', 'fluoruro', 'floruro'], limitMgL: 1.5, of: 'health', source: WHO, held: 'About nine tenths are held back: sample the product.' },
  { key: 'NO3', name: 'Nitrate', names: ['nitrate', 'no3', 'nitrat', 'nitrates', 'nitrato', 'nitrati', 'nitraat'], limitMgL: 50, of: 'health', source: WHO, held: 'Less of it is held back than of salt, eight tenths and more at good pressure: sample the product. Not for infants’ bottles before.' },
  { key: 'NO2', name: 'Nitrite', names: ['nitrite', 'no2', 'nitrit', 'nitrites', 'nitrito', 'nitriti', 'nitriet'], limitMgL: 3, of: 'health', source: WHO, held: 'Less of it is held back than of salt. It is a sign of fresh pollution: find the cause.' },
  { key: 'PFAS', name: 'PFAS, sum', names: ['pfas', 'sumpfas', 'pfassum', 'pfas20', 'summepfas', 'pfastotal'], limitMgL: 0.0001, of: 'health', source: 'EU 2020/2184, sum of twenty; no WHO value yet', held: 'Long ones are held back by nine tenths and more, short ones less surely: product is sampled, and carbon alone wears out unseen.' },
  { key: 'THM', name: 'Trihalomethanes', names: ['trihalomethanes', 'thm', 'trihalogenmethane', 'trihalométhanes', 'trihalometanos'], limitMgL: 0.1, of: 'health', source: 'EU 2020/2184; WHO by each', held: 'The membrane lets much of it by; fresh carbon holds it, until it is used up.' },
  { key: 'benzene', name: 'Benzene', names: ['benzene', 'benzol', 'benceno'], limitMgL: 0.01, of: 'health', source: WHO, held: 'Not surely held back by a membrane; it is a spill: nobody drinks it, and its source is found.' },
  { key: 'Na', name: 'Sodium', names: ['sodium', 'na', 'natrium', 'sodio'], limitMgL: 200, of: 'taste', source: TASTE, held: 'Held back by nine tenths and more. Who must keep to little salt asks their physician all the same.' },
  { key: 'Cl', name: 'Chloride', names: ['chloride', 'cl', 'chlorid', 'chlorure', 'cloruro', 'cloruri'], limitMgL: 250, of: 'taste', source: TASTE, held: WELL },
  { key: 'SO4', name: 'Sulphate', names: ['sulphate', 'sulfate', 'so4', 'sulfat', 'sulfato', 'solfato', 'solfati'], limitMgL: 250, of: 'taste', source: TASTE, held: WELL },
  { key: 'Fe', name: 'Iron', names: ['iron', 'fe', 'eisen', 'fer', 'hierro', 'ferro', 'ijzer', 'järn'], limitMgL: 0.3, of: 'taste', source: TASTE, held: 'It fouls a membrane: it is taken out before.' },
  { key: 'Mn', name: 'Manganese', names: ['manganese', 'mn', 'mangan', 'manganèse', 'manganeso', 'mangaan'], limitMgL: 0.08, of: 'health', source: `${WHO}, provisional`, held: 'It fouls a membrane: it is taken out before.' },
  { key: 'NH4', name: 'Ammonium', names: ['ammonium', 'nh4', 'ammonia', 'amonio', 'ammonio'], limitMgL: 1.5, of: 'taste', source: TASTE, held: 'Partly held back. In a well it is a sign of pollution, or of deep water without air.' },
]; // oxfmt-ignore

/** What a laboratory's row comes to against the value it is held to. */
export interface LabFinding {
  readonly row: number;
  readonly name: string;
  readonly text: string;
  readonly valueMgL: number;
  readonly below: boolean;
  readonly limitMgL: number;
  /** whose limit it is: the report's own where it gives one, which goes by the place's law */
  readonly source: string;
  readonly of: 'health' | 'taste';
  readonly above: boolean;
  /** below the laboratory's detection, which itself lies above the limit: it says nothing */
  readonly blind: boolean;
  readonly held: string;
}

const HEADINGS = ['limit', 'grenzwert', 'grenswaarde', 'valeurlimite', 'norme', 'norm', 'límite', 'valorlímite', 'gränsvärde', 'parametricvalue', 'mcl'] as const; // oxfmt-ignore

/** The column in which a report gives its own limits; null for none. */
export function guessLimitColumn(headings: readonly string[]): string | null {
  return headings.find((h) => HEADINGS.some((w) => squeeze(h).startsWith(squeeze(w)))) ?? null;
}

/** Milligrams in each unit laboratories give a litre's content in. */
const PER_UNIT: Readonly<Record<string, number>> = {
  '': 1,
  'mg/l': 1,
  ppm: 1,
  'g/m3': 1,
  'ug/l': 0.001,
  ppb: 0.001,
  'ng/l': 0.000001,
  'g/l': 1000,
};

/** The guideline of a substance, by its full name. */
function guidelineFor(name: string): Guideline | undefined {
  const whole = wholeNames(name);
  return GUIDELINES.find((g) => g.names.some((n) => whole.includes(squeeze(n))));
}

/** Compares every row that has a value it is held to with it: the report's own limit first, then the guideline. */
export function labFindings(
  rows: readonly LabRow[],
  columns: LabColumns,
  limitColumn: string | null,
  sign: DecimalSign | null = signOfSheet(rows, columns),
): LabFinding[] {
  return rows.flatMap((r, i): LabFinding[] => {
    const get = (c: string | null): string => (c === null ? '' : (r[c] ?? '').trim());
    const g = guidelineFor(get(columns.name));
    const read = labNumber(get(columns.value), sign);
    if (!g || !read || read.orElse !== undefined) return [];
    const unit = (get(columns.unit) || read.unit).replace(/µ|μ/g, 'u').replace(/\s/g, '').toLowerCase();
    const per = PER_UNIT[unit] ?? PER_UNIT[unit.replace(/(as|als)?no[23]$/, '')];
    if (per === undefined) return [];
    const own = limitColumn === null ? null : labNumber(get(limitColumn), sign);
    const limitMgL = own && own.value > 0 ? own.value * per : g.limitMgL;
    const valueMgL = read.value * per;
    return [
      {
        row: i + 1,
        name: g.name,
        text: `${get(columns.value)} ${get(columns.unit)}`.trim(),
        valueMgL,
        below: read.below,
        limitMgL,
        source: own && own.value > 0 ? 'the report’s own limit' : g.source,
        of: g.of,
        above: !read.below && valueMgL > limitMgL,
        blind: read.below && valueMgL > limitMgL,
        held: g.held,
      },
    ];
  });
}
