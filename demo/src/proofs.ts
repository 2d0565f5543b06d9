import {
  CORE_VERSION,
  expectedAt,
  keptVerdict,
  partIn,
  plainReadings,
  prove,
  restrictorFlowLDay,
  type DesignVersion,
  type FactOf,
  type NewFact,
  type Site,
} from '@katharos/core';

/** What a proof of the made-up firm is read at, and how its element really does. */
export interface ReadAt {
  readonly bar: number;
  readonly temperatureC: number;
  readonly feedTdsMgL: number;
  /** product flow and salt passage, times a new element's */
  readonly flow: number;
  readonly salt: number;
  /** read beside: by key, with its unit */
  readonly beside?: Readonly<Record<string, readonly [value: number, unit: string, digits: number]>>;
  readonly mended?: FactOf<'proof'>['mended'];
  readonly note?: string;
}

const typed = (value: number, unit: string, digits: number): { value: number; typed: string } => {
  const rounded = Number(value.toFixed(digits));
  return { value: rounded, typed: `${String(rounded)} ${unit}` };
};

/** A proof as it would have been read, with its verdict. @throws Error for a system without a restrictor */
export function proofOf(version: DesignVersion, site: Site, at: ReadAt): NewFact & { readonly kind: 'proof' } {
  const { system, judged: by } = version;
  const restrictor = partIn(system, 'restrictor');
  if (!restrictor) throw new Error('a system without a restrictor');
  const { bar, temperatureC } = at;
  const concentrateLMin = restrictorFlowLDay(restrictor.flow, bar, temperatureC) / 1440;
  const e = expectedAt(system, site, { bar, temperatureC, feedTds: site.tdsMgL, concentrateLMin });
  const readings = {
    feedTdsMgL: typed(at.feedTdsMgL, 'mg/L', 0),
    productTdsMgL: typed(Math.max(1, e.permeateTdsMgL * at.salt), 'mg/L', 0),
    temperatureC: typed(temperatureC, '°C', 0),
    membranePressureBar: typed(bar, 'bar', 2),
    productFlowLMin: typed((e.permeateLDay / 1440) * at.flow, 'L/min', 3),
    concentrateFlowLMin: typed(concentrateLMin, 'L/min', 3),
    ...Object.fromEntries(Object.entries(at.beside ?? {}).map(([k, v]) => [k, typed(...v)])),
  };
  const judged = prove(plainReadings(readings), system, site, by.rules.meterError);
  return {
    kind: 'proof',
    design: version.id,
    instrument: 'pen A, gauge 1, jug',
    readings,
    ...(judged.ok ? { judged: keptVerdict(judged.verdict, CORE_VERSION) } : {}),
    ...(at.mended ? { mended: at.mended } : {}),
    ...(at.note === undefined ? {} : { note: at.note }),
  };
}
