/**
 * Units people write and the base unit the core computes in, one table.
 * value in base unit = factor x written value + offset. Factors are exact by definition
 * (pound-force/in2, US gallon, inch) or follow the definition of the hardness degrees
 * (1 German degree = 10 mg/L CaO = 17.848 mg/L CaCO3; 1 French degree = 10 mg/L CaCO3;
 * 1 grain per US gallon = 17.118 mg/L).
 */
export type QuantityKind =
  | 'pressure'
  | 'temperature'
  | 'volume'
  | 'flow'
  | 'dailyVolume'
  | 'concentration'
  | 'hardness'
  | 'length'
  | 'run'
  | 'duration'
  | 'acidity'
  | 'turbidity'
  | 'conductivity'
  | 'count';

export interface Unit {
  /** how it is shown */
  readonly symbol: string;
  /** other ways people write it, lower case, without spaces */
  readonly also: readonly string[];
  readonly factor: number;
  readonly offset?: number;
}

const PSI_BAR = 0.0689475729;
const GALLON_L = 3.785411784;
const DAY_MIN = 1440;

const litreFlows = (perBase: number): Unit[] => [
  { symbol: 'L/min', also: ['l/min', 'l/m', 'l/mn', 'lpm', 'litre/min', 'liter/min'], factor: DAY_MIN / perBase },
  { symbol: 'mL/min', also: ['ml/min', 'cc/min'], factor: DAY_MIN / 1000 / perBase },
  { symbol: 'L/h', also: ['l/h', 'lph', 'l/hr', 'litre/h'], factor: 24 / perBase },
  { symbol: 'L/day', also: ['l/day', 'l/d', 'lpd', 'litre/day', 'litres/day', 'lday'], factor: 1 / perBase },
  { symbol: 'gal/day', also: ['gpd', 'gal/d', 'gallon/day', 'gallons/day'], factor: GALLON_L / perBase },
  { symbol: 'gal/min', also: ['gpm', 'gallon/min'], factor: (GALLON_L * DAY_MIN) / perBase },
];

/** The first unit of each kind is its base unit. */
export const UNITS: Readonly<Record<QuantityKind, readonly Unit[]>> = {
  pressure: [
    { symbol: 'bar', also: ['bars', 'barg', 'bar(g)'], factor: 1 },
    { symbol: 'kPa', also: ['kpa'], factor: 0.01 },
    { symbol: 'MPa', also: ['mpa'], factor: 10 },
    { symbol: 'psi', also: ['psig', 'psi(g)', 'lb/in2', 'lbf/in2', 'pounds'], factor: PSI_BAR },
    { symbol: 'mbar', also: ['millibar'], factor: 0.001 },
    { symbol: 'mH2O', also: ['mh2o', 'mwater', 'mwc', 'mce'], factor: 0.0980665 },
  ],
  temperature: [
    { symbol: '°C', also: ['c', 'degc', '°', 'celsius', 'deg', 'degrees', 'degreesc', 'degreescelsius'], factor: 1 },
    { symbol: '°F', also: ['f', 'degf', 'fahrenheit', 'degreesf'], factor: 5 / 9, offset: -160 / 9 },
    { symbol: 'K', also: ['k', 'kelvin'], factor: 1, offset: -273.15 },
  ],
  volume: [
    { symbol: 'L', also: ['l', 'litre', 'litres', 'liter', 'liters'], factor: 1 },
    { symbol: 'mL', also: ['ml', 'cc'], factor: 0.001 },
    { symbol: 'gal', also: ['gallon', 'gallons', 'usgal'], factor: GALLON_L },
    { symbol: 'm³', also: ['m3'], factor: 1000 },
  ],
  flow: litreFlows(DAY_MIN),
  dailyVolume: [...litreFlows(1)].sort((a, b) => Number(b.symbol === 'L/day') - Number(a.symbol === 'L/day')),
  concentration: [
    { symbol: 'mg/L', also: ['mg/l', 'ppm', 'mgl', 'g/m3', 'mg'], factor: 1 },
    { symbol: 'g/L', also: ['g/l', 'ppt'], factor: 1000 },
    { symbol: 'µg/L', also: ['ug/l', 'μg/l', 'ppb'], factor: 0.001 },
  ],
  hardness: [
    { symbol: 'mg/L', also: ['mg/l', 'ppm', 'mg/lcaco3', 'ppmcaco3', 'mgl'], factor: 1 },
    { symbol: '°dH', also: ['dh', 'gdh', 'dgh', '°dgh', '°d', 'degdh', 'german'], factor: 17.848 },
    // English degrees: 1 grain of CaCO3 in an imperial gallon
    { symbol: '°e', also: ['eh', '°eh', 'clark', '°clark', 'degclark', 'clarkdegrees', 'english'], factor: 14.254 },
    { symbol: '°fH', also: ['fh', '°f', 'degfh', 'french'], factor: 10 },
    { symbol: 'gr/gal', also: ['gpg', 'grain', 'grains', 'grains/gal', 'gr'], factor: 17.118 },
    { symbol: 'mmol/L', also: ['mmol/l', 'mmol'], factor: 100.09 },
  ],
  length: [
    { symbol: 'mm', also: ['millimetre', 'millimeter'], factor: 1 },
    { symbol: 'cm', also: ['centimetre', 'centimeter'], factor: 10 },
    { symbol: 'm', also: ['metre', 'meter'], factor: 1000 },
    { symbol: 'in', also: ['"', 'inch', 'inches'], factor: 25.4 },
    { symbol: 'ft', also: ["'", 'foot', 'feet'], factor: 304.8 },
  ],
  run: [
    { symbol: 'm', also: ['metre', 'meter'], factor: 1 },
    { symbol: 'cm', also: ['centimetre', 'centimeter'], factor: 0.01 },
    { symbol: 'mm', also: ['millimetre', 'millimeter'], factor: 0.001 },
    { symbol: 'ft', also: ["'", 'foot', 'feet'], factor: 0.3048 },
    { symbol: 'in', also: ['"', 'inch', 'inches'], factor: 0.0254 },
  ],
  duration: [
    { symbol: 'min', also: ['minute', 'minutes'], factor: 1 },
    { symbol: 'h', also: ['hour', 'hours', 'hr'], factor: 60 },
    { symbol: 's', also: ['sec', 'second', 'seconds'], factor: 1 / 60 },
  ],
  acidity: [{ symbol: 'pH', also: ['ph'], factor: 1 }],
  turbidity: [{ symbol: 'NTU', also: ['ntu', 'fnu', 'ftu'], factor: 1 }],
  // at 25 °C, as meters show it
  conductivity: [
    { symbol: 'µS/cm', also: ['us/cm', 'μs/cm', 'uscm', 'us', 'µs', 'μs', 'micros/cm'], factor: 1 },
    { symbol: 'mS/cm', also: ['ms/cm', 'mscm', 'ms'], factor: 1000 },
  ],
  count: [{ symbol: '', also: [], factor: 1 }],
};

/** The base unit's symbol of a kind. */
export function baseUnit(kind: QuantityKind): string {
  return UNITS[kind][0]?.symbol ?? '';
}

/** The base unit as it stands after a figure: none for a pH, whose name says what it is. */
export function shownUnit(kind: QuantityKind): string {
  return kind === 'acidity' ? '' : baseUnit(kind);
}

/** Finds a unit of the kind by what a person wrote; undefined when the kind has no such unit. */
export function findUnit(kind: QuantityKind, written: string): Unit | undefined {
  const w = written.replace(/\s+/g, '');
  const low = w.toLowerCase();
  return (
    UNITS[kind].find((u) => u.symbol === w) ??
    UNITS[kind].find((u) => u.also.includes(low)) ??
    UNITS[kind].find((u) => u.symbol.toLowerCase() === low)
  );
}

/** Every kind that knows the written unit: tells "wrong kind" from "no such unit". */
export function kindsOf(written: string): QuantityKind[] {
  return (Object.keys(UNITS) as QuantityKind[]).filter((k) => findUnit(k, written) !== undefined);
}

/** Converts a value in the base unit of a kind to another unit of that kind. @throws if the kind has no such unit (a programming fault). */
export function fromBase(value: number, kind: QuantityKind, symbol: string): number {
  const u = findUnit(kind, symbol);
  if (!u) throw new RangeError(`${kind} has no unit ${symbol}`);
  return (value - (u.offset ?? 0)) / u.factor;
}

/** Converts a value written in some unit to the base unit of its kind. @throws if the kind has no such unit (a programming fault). */
export function toBase(value: number, kind: QuantityKind, symbol: string): number {
  const u = findUnit(kind, symbol);
  if (!u) throw new RangeError(`${kind} has no unit ${symbol}`);
  return value * u.factor + (u.offset ?? 0);
}
