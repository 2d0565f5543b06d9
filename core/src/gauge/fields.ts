import { c, q, YES_NO, type ChoiceField, type GaugeField } from './field.ts';
import { PLACE_FIELDS } from './placeFields.ts';

export type { ChoiceField, GaugeField, QuantityField } from './field.ts';

/** Everything that is read or asked at a house, in the order it is taken. Base units: bar, deg C, mg/L, L, mm, m. */
export const GAUGE_FIELDS = {
  source: c(
    'water',
    'Source',
    {
      mains: 'mains',
      'softened-mains': 'mains, softened in the house',
      well: 'private well',
      surface: 'surface or lake water',
      rain: 'rain water',
    },
    'Ask, and look for a softener and which taps it serves.',
  ),
  aim: c(
    'household',
    'What they want of it',
    {
      dissolved: 'less dissolved in it: salt, scale, nitrate, metals',
      taste: 'only the taste or smell of chlorine gone',
      microbes: 'only rid of microbes',
    },
    'Ask first: taste and chlorine want carbon, microbes a lamp. Reverse osmosis is for what is dissolved.',
  ),
  worry: {
    ...c(
      'household',
      'Worried about',
      {
        none: 'nothing in particular',
        lead: 'lead',
        arsenic: 'arsenic',
        nitrate: 'nitrate',
        fluoride: 'fluoride',
        pfas: 'PFAS',
        microbes: 'microbes',
      },
      'One or several. No meter here sees it: it is answered by laboratory samples of raw and product water.',
    ),
    severalOr: 'none',
  },
  care: {
    ...c(
      'household',
      'To be careful with',
      {
        none: 'nobody in particular',
        infant: 'an infant, or one on the way',
        diet: 'a diet a doctor set',
        medical: 'dialysis or another medical use',
      },
      'Ask: water this low in minerals is not for everybody. What is told stands on their sheets.',
    ),
    severalOr: 'none',
  },
  laboratory: c(
    'water',
    'Laboratory microbiology',
    { none: 'no report', clean: 'report in hand, clean', unsafe: 'report in hand, not clean' },
    'Private water needs a laboratory report before anyone promises anything.',
  ),
  feedTdsMgL: q('water', 'Feed TDS', 'concentration', 'mg/L', 1, 45000, 'Rinse the pen, read at the cold kitchen tap.'),
  hardnessMgL: q(
    'water',
    'Hardness at this tap',
    'hardness',
    'mg/L',
    0,
    3000,
    'Drop kit at this very tap: it may be left unsoftened.',
  ),
  alkalinityMgL: q(
    'water',
    'Alkalinity',
    'hardness',
    'mg/L',
    0,
    3000,
    'Drop kit, as CaCO3; the supplier’s sheet has it too.',
  ),
  pH: q('water', 'pH', 'acidity', 'pH', 4, 11, 'At the tap, at once: it drifts in the jug.'),
  silicaMgL: q('water', 'Silica', 'concentration', 'mg/L', 0, 200, 'From the supplier’s or a laboratory’s sheet.'),
  nitrateMgL: q('water', 'Nitrate', 'concentration', 'mg/L', 0, 500, 'As NO3: strip, or the supplier’s sheet.'),
  disinfectant: c(
    'water',
    'Disinfectant',
    { chlorine: 'free chlorine', chloramine: 'chloramine', none: 'none', unknown: 'not known' },
    'Free and total chlorine by drop kit or strip; total without free is chloramine.',
  ),
  chlorineMgL: q(
    'water',
    'Chlorine, total',
    'concentration',
    'mg/L',
    0,
    20,
    'Drop kit or strip, straight from the tap.',
  ),
  temperatureC: q('water', 'Water today', 'temperature', '°C', 0.1, 70, 'Run the cold tap until it stays, then read.'),
  coldestC: q('water', 'Coldest of the year', 'temperature', '°C', 0.1, 45, 'Ask the supplier or last winter’s visit.'),
  warmestC: q(
    'water',
    'Warmest of the year',
    'temperature',
    '°C',
    0.1,
    45,
    'Ask the supplier; warm water makes more and risks scale.',
  ),
  ironMgL: q('water', 'Iron', 'concentration', 'mg/L', 0, 50, 'Test strip or laboratory; private water above all.'),
  manganeseMgL: q(
    'water',
    'Manganese',
    'concentration',
    'mg/L',
    0,
    20,
    'Laboratory; above 0.05 it fouls the membrane and stains.',
  ),
  turbidityNTU: q(
    'water',
    'Turbidity',
    'turbidity',
    'NTU',
    0,
    500,
    'A clear glass against the light, or a turbidity pen.',
  ),
  smell: c(
    'water',
    'Smell of rotten eggs',
    { no: 'none', 'hot-only': 'only in hot water', yes: 'in the cold water too' },
    'Hydrogen sulphide passes a membrane and eats its carbon. Only in hot water it is the heater’s rod.',
  ),
  coldLine: c(
    'water',
    'Cold line told from hot',
    { yes: 'run, felt and labelled', no: 'not yet' },
    'Run both taps, feel, label the cold one. A hot feed ruins a membrane.',
  ),
  staticPressureBar: q(
    'pressure',
    'Static pressure',
    'pressure',
    'bar',
    0,
    25,
    'Gauge on the cold line, nothing running.',
  ),
  runningPressureBar: q('pressure', 'Running pressure', 'pressure', 'bar', 0, 25, 'Same gauge with another tap open.'),
  runningFlowLMin: q('pressure', 'Flow at that reading', 'flow', 'L/min', 0.1, 100, 'Jug and watch at the open tap.'),
  highestPressureBar: q(
    'pressure',
    'Highest, at night',
    'pressure',
    'bar',
    0,
    25,
    'A gauge with a drag hand left overnight.',
  ),
  switchLowBar: q(
    'pressure',
    'Well switch starts at',
    'pressure',
    'bar',
    0,
    15,
    'Watch the gauge until the well pump starts.',
  ),
  switchHighBar: q(
    'pressure',
    'Well switch stops at',
    'pressure',
    'bar',
    0,
    15,
    'Watch the gauge until the well pump stops.',
  ),
  stopValveHolds: c(
    'pressure',
    'Stop valve holds',
    { yes: 'shut and seen to hold', no: 'does not hold', seized: 'does not turn', 'not-tried': 'not tried' },
    'Shut it with the tap open, and find the house’s main valve, before any spanner.',
  ),
  people: q('household', 'People', 'count', '', 1, 60, 'Who drinks and cooks here on an ordinary day.'),
  litresADay: q('household', 'Litres a day', 'dailyVolume', 'L/day', 0.5, 600, 'Drinking, cooking, pets, ice.'),
  mealsADay: q('household', 'Meals cooked a day', 'count', '', 0, 12, 'At home, on an ordinary day. Two are usual.'),
  bottlesADay: q(
    'household',
    'Bottles filled a day',
    'count',
    '',
    0,
    60,
    'To take along, three quarters of a litre each.',
  ),
  iceLADay: q(
    'household',
    'Ice and fridge, litres a day',
    'dailyVolume',
    'L/day',
    0,
    60,
    'Ice maker and fridge spout together.',
  ),
  secondTapLADay: q(
    'household',
    'Second tap, litres a day',
    'dailyVolume',
    'L/day',
    0,
    200,
    'Another tap on the same system: a bar, a coffee machine.',
  ),
  largestDrawL: q('household', 'Largest single draw', 'volume', 'L', 0.2, 60, 'A stock pot, bottles filled in a row.'),
  patience: c(
    'household',
    'Patience at the tap',
    { brisk: 'brisk: a glass in 12 seconds', ordinary: 'by the house rule', patient: 'patient: a glass in 30 seconds' },
    'How long they will stand for a quarter of a litre. It says when a tank counts as empty.',
  ),
  storeWish: c(
    'household',
    'A tank under the sink',
    { either: 'either will do', tank: 'wanted', none: 'not wanted' },
    'Ask: some want no tank at all, some nothing that hums.',
  ),
  fridge: c('household', 'Fridge or ice line', YES_NO, 'A branch to a fridge or ice maker.'),
  fridgeMinBar: q(
    'household',
    'Fridge’s least pressure',
    'pressure',
    'bar',
    0.2,
    4,
    'On its plate or in its booklet, commonly 1.4 to 2.8 bar.',
  ),
  fridgeLengthM: q('household', 'Tube to the fridge', 'run', 'm', 0.5, 40, 'Along the way it will go, from the tank.'),
  fridgeRiseM: q(
    'household',
    'Rise to the fridge',
    'run',
    'm',
    -5,
    12,
    'From the cupboard’s floor to its inlet; below it is minus.',
  ),
  dispenser: c(
    'household',
    'Dispenser that heats or cools',
    YES_NO,
    'It stands on a branch of its own, fills its own tanks and wants a socket.',
  ),
  metalAfter: c(
    'household',
    'Metal pipe after the system',
    { no: 'none', copper: 'copper', brass: 'brass fittings or tap', unknown: 'not known' },
    'Anything of copper or brass that product water will stand in.',
  ),
  caresMost: c(
    'household',
    'Cares most about',
    {
      balanced: 'a bit of everything',
      waste: 'little to the drain',
      wait: 'a quick refill',
      purity: 'the purest water',
      room: 'little room taken',
      electricity: 'no electricity',
      cost: 'low running cost',
    },
    'Ask: it ranks the designs that do.',
  ),
  mineralsWanted: c('household', 'Minerals for the taste', YES_NO, 'Some find water without minerals flat.'),
  airColdestC: q(
    'place',
    'Air, coldest month',
    'temperature',
    '°C',
    -40,
    40,
    'Its mean, from any weather table: it tells the coldest water where nobody knows.',
  ),
  airWarmestC: q('place', 'Air, warmest month', 'temperature', '°C', -20, 50, 'Its mean, from the same table.'),
  altitudeM: q('place', 'Height above the sea', 'run', 'm', -400, 4000, 'A map will do; a tank holds more up high.'),
  ...PLACE_FIELDS,
} as const satisfies Record<string, GaugeField>;

export type FieldKey = keyof typeof GAUGE_FIELDS;
export const FIELD_KEYS = Object.keys(GAUGE_FIELDS) as FieldKey[];
/** The field's definition without the narrow type of its own entry. */
export const gaugeField = (key: FieldKey): GaugeField => GAUGE_FIELDS[key];

/** One reading in use: a number in the field's base unit, or the chosen option. */
export type Known = Partial<Record<FieldKey, number | string>>;

/** The number known for a field, or undefined. */
export function numberOf(known: Known, key: FieldKey): number | undefined {
  const v = known[key];
  return typeof v === 'number' ? v : undefined;
}

/** Options chosen at once stand in one value, in the field's order: "lead,nitrate". */
const BETWEEN = ',';

/** The options a field's value holds. */
export const choicesIn = (value: number | string): string[] => String(value).split(BETWEEN);

/** One value of several options, in the field's own order; with none of them, or with the one that stands alone, that one. */
export function choicesTogether(f: ChoiceField, chosen: readonly string[]): string {
  const some = Object.keys(f.options).filter((o) => o !== f.severalOr && chosen.includes(o));
  return some.length > 0 ? some.join(BETWEEN) : (f.severalOr ?? '');
}

/** What was chosen, in the words it is asked in: "lead, nitrate". */
export const choiceWords = (f: ChoiceField, value: number | string): string =>
  choicesIn(value)
    .map((o) => f.options[o] ?? o)
    .join(', ');

/** The option chosen for a field, or undefined. */
export function choiceOf(known: Known, key: FieldKey): string | undefined {
  const v = known[key];
  return typeof v === 'string' ? v : undefined;
}

/** Whether a value is one the field can hold. Used wherever a reading enters. */
export function fieldAccepts(key: FieldKey, value: number | string): boolean {
  const f: GaugeField = GAUGE_FIELDS[key];
  if (f.type === 'choice')
    return (
      typeof value === 'string' &&
      (Object.hasOwn(f.options, value) || (f.severalOr !== undefined && value === choicesTogether(f, choicesIn(value))))
    );
  return typeof value === 'number' && Number.isFinite(value) && value >= f.min && value <= f.max;
}
