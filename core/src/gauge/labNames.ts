import type { FieldKey } from './fields.ts';

/** Full names of what laboratories report, in several languages, lower case without blanks. A part of a name is never enough. */
const NAMES: readonly (readonly [FieldKey, readonly string[]])[] = [
  ['feedTdsMgL', ['tds', 'totaldissolvedsolids', 'dissolvedsolids', 'gelöstestoffe', 'matièresdissoutes', 'sólidosdisueltos', 'sólidostotalesdisueltos', 'solididisciolti', 'opgelostestoffen']],
  ['hardnessMgL', ['hardness', 'totalhardness', 'waterhardness', 'summeerdalkalien', 'erdalkalien', 'calciumplusmagnesium', 'calciumandmagnesium', 'summecalciumundmagnesium', 'gesamthärte', 'härte', 'wasserhärte', 'dureté', 'duretétotale', 'th', 'dureza', 'durezatotal', 'durezza', 'durezzatotale', 'hardheid', 'totalehardheid', 'hårdhet', 'totalhårdhet']],
  ['alkalinityMgL', ['alkalinity', 'totalalkalinity', 'alkalinität', 'säurekapazität', 'säurekapazitätbisph4,3', 'säurekapazitätbisph4.3', 'säurekapazitätks4,3', 'acidcapacity', 'ks4,3', 'ks4.3', 'm-wert', 'tac', 'alcalinité', 'alcalinidad', 'alcalinità', 'alkaliniteit', 'alkalinitet']],
  ['pH', ['ph', 'ph-wert', 'phwert', 'phvalue', 'zuurgraad']],
  ['silicaMgL', ['silica', 'sio2', 'kieselsäure', 'silice', 'sílice', 'kiezelzuur']],
  ['nitrateMgL', ['nitrate', 'nitratei', 'no3', 'no3-', 'nitrat', 'nitrates', 'nitrato', 'nitratos', 'nitrati', 'nitraat']],
  ['chlorineMgL', ['chlorine', 'totalchlorine', 'freechlorine', 'residualchlorine', 'chlor', 'gesamtchlor', 'freieschlor', 'chlore', 'chlorelibre', 'chloretotal', 'cloro', 'clorolibre', 'clorolibero', 'chloor', 'klor']],
  ['ironMgL', ['iron', 'fe', 'eisen', 'fer', 'hierro', 'ferro', 'ijzer', 'järn']],
  ['manganeseMgL', ['manganese', 'mn', 'mangan', 'manganèse', 'manganeso', 'mangaan']],
  ['turbidityNTU', ['turbidity', 'trübung', 'turbidité', 'turbidez', 'torbidità', 'troebelheid', 'grumlighet']],
  ['temperatureC', ['temperature', 'watertemperature', 'temperatur', 'wassertemperatur', 'température', 'temperatura', 'temperatuur']],
  ['laboratory', ['e.coli', 'ecoli', 'escherichiacoli', 'coliforms', 'coliform', 'coliformbacteria', 'coliformebakterien', 'coliforme', 'coliformes', 'enterococci', 'enterokokken', 'enterococcen', 'totalcoliforms', 'totalcoliform', 'fecalcoliforms', 'faecalcoliforms']],
]; // oxfmt-ignore

const CONDUCTIVITY = ['conductivity', 'electricalconductivity', 'specificconductance', 'leitfähigkeit', 'elektrischeleitfähigkeit', 'conductivité', 'conductividad', 'conducibilità', 'conduttività', 'geleidbaarheid', 'geleidingsvermogen', 'konduktivitet'] as const; // oxfmt-ignore

/** Words beside a name that say how it was read, and are no part of it. */
const BESIDE = ['total', 'gesamt', 'totale', 'totaal', 'dissolved', 'gelöst', 'dissous', 'disuelto', 'soluble', 'filtered', 'filtriert', 'as', 'als', 'en', 'como', 'bei', 'at', 'à', 'a', 'no3', 'caco3', 'sio2', 'fe', 'mn', '25', '20', '°c', 'c', 'ion', 'calculated', 'berechnet', 'field', 'vor', 'ort', 'elektrische', 'elektr.', 'electrical', 'im', 'in', 'wasser', 'water'] as const; // oxfmt-ignore
const isBeside = (word: string): boolean => (BESIDE as readonly string[]).includes(word.replace(/[.,:;]$/, ''));

export const squeeze = (s: string): string => s.toLowerCase().replace(/[\s_]+/g, '');

/** Nitrate and nitrite given as their nitrogen are other figures: 1 mg of nitrogen is 4.4 mg of nitrate. */
const AS_NITROGEN =
  /\b(as|als|en|como)\s+n\b|[([]\s*(as\s+)?n\s*[)\]]|-\s*n\b|nitrogen|stickstoff|azote|nitr[óo]geno|azoto/i;

/**
 * What a laboratory's name may be as a whole: as it stands, without what stands in brackets, each part between commas, and
 * without the words that only say how it was read. Lower case without blanks.
 */
export function wholeNames(name: string): readonly string[] {
  if (AS_NITROGEN.test(name)) return [squeeze(name)];
  const bare = name.toLowerCase().replace(/\(.*?\)|\[.*?\]/g, ' ');
  const inBrackets = [...name.toLowerCase().matchAll(/[([](.*?)[)\]]/g)].map((m) => m[1] ?? '');
  const parts = [bare, ...bare.split(/[,;:/]\s+|\s[-–]\s/)];
  const trimmed = parts.map((p) => p.split(/[\s,;:]+/).filter((w) => w !== '' && !isBeside(w)).join('')); // oxfmt-ignore
  return [...new Set([name, ...parts, ...trimmed, ...inBrackets].map(squeeze).filter((s) => s.length > 0))];
}

/** The reading a laboratory's name stands for, by its full name; null for what this sheet does not take. */
export function guessField(name: string): FieldKey | null {
  const whole = wholeNames(name);
  const [found] = NAMES.flatMap(([field, names]) => (names.some((n) => whole.includes(n)) ? [field] : []));
  return found ?? null;
}

/** Whether a name is that of a conductivity. */
export const isConductivity = (name: string): boolean =>
  wholeNames(name).some((w) => (CONDUCTIVITY as readonly string[]).includes(w));

/** What each reading usually lies between in water that is drunk, base units: a guess beyond it is asked about. */
const USUAL: Partial<Record<FieldKey, readonly [number, number]>> = {
  feedTdsMgL: [5, 5000],
  hardnessMgL: [0, 1500],
  alkalinityMgL: [0, 1000],
  pH: [5, 10],
  silicaMgL: [0, 120],
  nitrateMgL: [0, 300],
  chlorineMgL: [0, 5],
  ironMgL: [0, 30],
  manganeseMgL: [0, 10],
  turbidityNTU: [0, 100],
  temperatureC: [1, 45],
};

/** Whether a figure lies within what is usual for a reading. @param value in the field's base unit */
export function isUsual(field: FieldKey, value: number): boolean {
  const [low, high] = USUAL[field] ?? [-Infinity, Infinity];
  return value >= low && value <= high;
}
