import type { ElementSite } from '../membrane/channel.ts';
import type { Site } from '../gauge/site.ts';
import { restrictorFlowLDay } from '../hydraulics/restrictor.ts';
import { pressureForFlowBar } from '../hydraulics/outlet.ts';
import { NO_WAY } from '../hydraulics/way.ts';
import { inSeries, permeabilityOf } from '../system/membranes.ts';
import { systemInHouse } from '../system/inHouse.ts';
import { ofWork, partIn, type System } from '../system/system.ts';
import { solveElement, type ElementOutput } from '../membrane/element.ts';
import { formatNumber } from '../quantity/format.ts';
import { osmoticBarPerMgL, scaled } from '../water/composition.ts';
import { failedChecks, type Checks } from './checks.ts';
import { fitted, type Fitted } from './fitted.ts';
import { worseGrade, type Grade, type OtherSign } from './grade.ts';
import { otherSigns } from './signs.ts';
import { PROOF_FIELDS, PROOF_KEYS, type OwnErrors, type ProofKey, type ProofReadings } from './fields.ts';

/** A measured figure beside what this element should do at these conditions. */
export interface Compared {
  readonly key: 'productFlow' | 'productTds' | 'concentrateFlow' | 'contact' | 'dose' | 'chlorine';
  readonly label: string;
  readonly unit: string;
  readonly measured: number;
  readonly expected: number;
  readonly low: number;
  readonly high: number;
  readonly grade: Grade;
  /** the limits the grade was given by, in words */
  readonly limits: string;
}

export interface Verdict {
  readonly grade: Grade;
  readonly sentence: string;
  /** 1 - product / feed, as measured */
  readonly rejection: number;
  /** product / (product + concentrate) at this moment, as measured */
  readonly momentaryRecovery: number;
  /** concentrate / product at this moment, as measured */
  readonly wasteRatio: number;
  readonly compared: readonly Compared[];
  /** measured product flow over what a new element of this rating makes at the same conditions */
  readonly flowAgainstNew: number;
  /** measured salt passage over a new element's */
  readonly passageAgainstNew: number;
  /** brought to the rating's own test conditions (as ASTM D4516 does, with this model's driving pressure), L/day */
  readonly normalisedFlowLDay: number;
  /** salt passage brought to the rating's test conditions, 0 to 1 */
  readonly normalisedPassage: number;
  /** water and salt permeability of the element as it was read; null where none explains it */
  readonly fitted: Fitted | null;
  readonly reasons: readonly string[];
  readonly next: readonly string[];
  readonly doubts: readonly string[];
}

export type ProofResult =
  | { readonly ok: false; readonly missing: readonly ProofKey[] }
  | { readonly ok: true; readonly verdict: Verdict };

/**
 * Limits of the three grades, on measured / expected. Flow and concentrate: within `good` of the expected band's
 * half-width is good, within twice is to watch. Salt passage: up to 1.5 times expected good, up to 2.5 to watch.
 */
export const VERDICT_LIMITS = {
  elementFlow: 0.15,
  pressureErrorBar: 0.1,
  temperatureErrorC: 1,
  jugError: 0.05,
  passageGood: 1.5,
  passageWatch: 2.5,
  concentrateGood: 0.3,
  concentrateWatch: 0.5,
  chlorineMgL: 0.1,
} as const;

interface Moment {
  readonly bar: number;
  readonly temperatureC: number;
  readonly feedTds: number;
  readonly concentrateLMin: number;
  /** product at the open tap, which presses back on the membrane; a trickle if left out */
  readonly productLMin?: number;
}

/** Conditions a new element is compared at. */
export interface Conditions {
  readonly site: ElementSite;
}

function siteAt(system: System, site: Site, m: Moment): ElementSite {
  const make = site.water.composition;
  const water = make.tdsMgL > 0 ? scaled(make, m.feedTds / make.tdsMgL) : make;
  const outlet = systemInHouse(system, site, 'today')?.outlet ?? NO_WAY;
  const back = Math.max(0, pressureForFlowBar(outlet, m.productLMin ?? 0.1, m.temperatureC));
  return {
    feedPressureBar: m.bar,
    permeatePressureBar: back + (partIn(system, 'non-return')?.barLoss ?? 0),
    temperatureC: m.temperatureC,
    tdsMgL: m.feedTds,
    osmoticBarPerMgL: osmoticBarPerMgL(water, m.temperatureC),
    concentrateLDay: Math.max(1, m.concentrateLMin * 1440),
  };
}

/** The conditions a proof was read at, or null where one that is needed is missing. */
export function conditionsOf(r: ProofReadings, system: System, site: Site): Conditions | null {
  if (PROOF_KEYS.some((k) => PROOF_FIELDS[k].needed && r[k] === undefined)) return null;
  return {
    site: siteAt(system, site, {
      bar: r.membranePressureBar ?? 0,
      temperatureC: r.temperatureC ?? 25,
      feedTds: r.feedTdsMgL ?? 0,
      concentrateLMin: r.concentrateFlowLMin ?? 0,
      productLMin: r.productFlowLMin ?? 0.1,
    }),
  };
}

/**
 * What a new element of the system makes at the conditions of a reading, tank shut and tap open.
 * @throws RangeError for a system without a membrane
 */
export function expectedAt(system: System, site: Site, m: Moment): ElementOutput {
  const element = partIn(system, 'element');
  if (!element) throw new RangeError('a system without a membrane has no element to compare');
  const count = ofWork(system, 'separates').length;
  return solveElement(inSeries(permeabilityOf(element.rating), count), siteAt(system, site, m));
}

const percent = (x: number): string => `${formatNumber(100 * x, 3)} %`;

/** Half-width of the expected flow as a share: element tolerance with pressure and thermometer error, in quadrature. */
function flowBand(at: (m: Moment) => ElementOutput, m: Moment, expected: number, own: OwnErrors): number {
  const l = VERDICT_LIMITS;
  const bar = m.bar + (own.membranePressureBar ?? l.pressureErrorBar);
  const temperatureC = m.temperatureC + (own.temperatureC ?? l.temperatureErrorC);
  const dp = (at({ ...m, bar }).permeateLDay / 1440 - expected) / expected;
  const dt = (at({ ...m, temperatureC }).permeateLDay / 1440 - expected) / expected;
  const flow = own.productFlowLMin === undefined ? l.jugError : own.productFlowLMin / expected;
  return Math.hypot(l.elementFlow, dp, dt, flow);
}

/**
 * Judges a system by its readings against the element's own rating at the same pressure, temperature and feed.
 * @param checks what was tried beside them
 * @param own errors of instruments that are known, in place of the usual ones
 * @returns the missing readings, or the verdict with its limits, reasons and what to do next
 */
export function prove(
  r: ProofReadings,
  system: System,
  site: Site,
  meterError: number,
  checks: Checks = {},
  own: OwnErrors = {},
): ProofResult {
  const { feedTdsMgL, productTdsMgL, temperatureC, membranePressureBar, productFlowLMin, concentrateFlowLMin } = r;
  if (
    feedTdsMgL === undefined ||
    productTdsMgL === undefined ||
    temperatureC === undefined ||
    membranePressureBar === undefined ||
    productFlowLMin === undefined ||
    concentrateFlowLMin === undefined
  )
    return { ok: false, missing: PROOF_KEYS.filter((k) => PROOF_FIELDS[k].needed && r[k] === undefined) };
  const l = VERDICT_LIMITS;
  const element = partIn(system, 'element');
  const restrictor = partIn(system, 'restrictor');
  if (!element || !restrictor) throw new RangeError('a system without a membrane is proved otherwise');
  const { rating } = element;
  const count = ofWork(system, 'separates').length;
  const restrictorLMin = restrictorFlowLDay(restrictor.flow, membranePressureBar, temperatureC) / 1440;
  const m: Moment = {
    bar: membranePressureBar,
    temperatureC,
    feedTds: feedTdsMgL,
    concentrateLMin: concentrateFlowLMin > 0.005 ? concentrateFlowLMin : restrictorLMin,
    productLMin: productFlowLMin,
  };
  const at = (x: Moment): ElementOutput => expectedAt(system, site, x);
  const e = at(m);
  const expectedFlow = e.permeateLDay / 1440;
  const band = expectedFlow > 0 ? flowBand(at, m, expectedFlow, own) : 1;
  const ratio = expectedFlow > 0 ? productFlowLMin / expectedFlow : 0;
  const flowGrade: Grade = Math.abs(ratio - 1) <= band ? 'good' : Math.abs(ratio - 1) <= 2 * band ? 'watch' : 'act';
  const expectedPassage = e.permeateTdsMgL / feedTdsMgL;
  const passage = productTdsMgL / feedTdsMgL;
  const passageRatio = expectedPassage > 0 ? passage / expectedPassage : 0;
  const slack = 2 + meterError * productTdsMgL;
  const over = (limit: number): boolean => productTdsMgL > e.permeateTdsMgL * limit + slack;
  const tdsGrade: Grade = over(l.passageWatch) ? 'act' : over(l.passageGood) ? 'watch' : 'good';
  const concentrateRatio = restrictorLMin > 0 ? concentrateFlowLMin / restrictorLMin : 0;
  const off = Math.abs(concentrateRatio - 1);
  const concentrateGrade: Grade = off <= l.concentrateGood ? 'good' : off <= l.concentrateWatch ? 'watch' : 'act';
  const chlorineBad = r.chlorineMgL !== undefined && r.chlorineMgL >= l.chlorineMgL;
  const signs = [...otherSigns(r, system, site, restrictorLMin), ...failedChecks(checks)];
  const grade = [tdsGrade, concentrateGrade, chlorineBad ? ('act' as const) : ('good' as const)]
    .concat(signs.map((x) => x.grade))
    .reduce(worseGrade, flowGrade);
  const compared: Compared[] = [
    {
      key: 'productFlow',
      label: 'Product flow',
      unit: 'L/min',
      measured: productFlowLMin,
      expected: expectedFlow,
      low: expectedFlow * (1 - band),
      high: expectedFlow * (1 + band),
      grade: flowGrade,
      limits: `good within ± ${percent(band)} of expected, act beyond ± ${percent(2 * band)}`,
    },
    {
      key: 'productTds',
      label: 'Product TDS',
      unit: 'mg/L',
      measured: productTdsMgL,
      expected: e.permeateTdsMgL,
      low: 0,
      high: e.permeateTdsMgL * l.passageGood + slack,
      grade: tdsGrade,
      limits: `good up to ${formatNumber(l.passageGood, 2)} times expected, act beyond ${formatNumber(l.passageWatch, 2)} times, ± the pen`,
    },
    {
      key: 'concentrateFlow',
      label: 'Concentrate flow',
      unit: 'L/min',
      measured: concentrateFlowLMin,
      expected: restrictorLMin,
      low: restrictorLMin * (1 - l.concentrateGood),
      high: restrictorLMin * (1 + l.concentrateGood),
      grade: concentrateGrade,
      limits: `good within ± ${percent(l.concentrateGood)} of the restrictor’s flow here, act beyond ± ${percent(l.concentrateWatch)}`,
    },
  ];
  const pattern = { flow: ratio, flowGrade, tdsGrade, concentrateRatio, concentrateGrade, chlorineBad };
  const found = findings(pattern, signs, partIn(system, 'tank') !== undefined);
  return {
    ok: true,
    verdict: {
      grade,
      sentence: sentenceFor(grade, 1 - passage, ratio),
      rejection: 1 - passage,
      momentaryRecovery:
        productFlowLMin + concentrateFlowLMin > 0 ? productFlowLMin / (productFlowLMin + concentrateFlowLMin) : 0,
      wasteRatio: productFlowLMin > 0 ? concentrateFlowLMin / productFlowLMin : Infinity,
      compared,
      flowAgainstNew: ratio,
      passageAgainstNew: passageRatio,
      normalisedFlowLDay: ratio * rating.permeateLDay * count,
      normalisedPassage: passageRatio * (1 - rating.rejection),
      fitted: fitted(
        inSeries(permeabilityOf(rating), count),
        siteAt(system, site, m),
        productFlowLMin * 1440,
        productTdsMgL,
      ),
      reasons: found.reasons,
      next: found.next,
      doubts: proofDoubts(r, site),
    },
  };
}

function sentenceFor(grade: Grade, rejection: number, flowRatio: number): string {
  const figures = `It holds back ${percent(rejection)} and makes ${percent(flowRatio)} of what a new element would here`;
  if (grade === 'good') return `${figures}: it does what it should.`;
  if (grade === 'watch') return `${figures}: keep an eye on it, and read again soon.`;
  return `${figures}: something wants doing before you leave.`;
}

interface Signs {
  readonly flow: number;
  readonly flowGrade: Grade;
  readonly tdsGrade: Grade;
  readonly concentrateRatio: number;
  readonly concentrateGrade: Grade;
  readonly chlorineBad: boolean;
}

/** What the pattern of signs means in practice, and the check that tells causes apart. @param aired a tank under air helps at the tap */
function findings(s: Signs, others: readonly OtherSign[], aired: boolean): { reasons: string[]; next: string[] } {
  const reasons = others.map((o) => o.reason);
  const next = others.map((o) => o.next);
  const salty = s.tdsGrade !== 'good';
  const slow = s.flowGrade !== 'good' && s.flow < 1;
  const fast = s.flowGrade !== 'good' && s.flow > 1;
  if (s.chlorineBad) {
    reasons.push('Chlorine passes the carbon: it eats the membrane.');
    next.push('Change the carbon before anything else, and read chlorine again.');
  }
  if (salty && fast) {
    reasons.push('More salt and more water than expected: feed water finds a way past the membrane.');
    next.push(
      'Membrane out: look at the O-rings, the brine seal and the product tube for a crack; seat it home; read again.',
    );
  } else if (salty && slow) {
    reasons.push('More salt and less water than expected: scale on the membrane, or a pressure lower than read.');
    next.push(
      'Read the pressure at the gauge point while it runs; then the hardness. Scaled: a new membrane, and less recovery.',
    );
  } else if (salty) {
    reasons.push('More salt than expected at the right flow.');
    next.push(
      'Let it run ten minutes more and read again at the sample port, the same pen rinsed. Still high: seals, then the membrane.',
    );
  } else if (slow) {
    reasons.push('Less water than expected, salt held back well: pressure, cold, or clogged pre-filters.');
    next.push(
      `Read pressure before and after the pre-filters while it runs; above 0.7 bar apart, change them.${aired ? ' Tank valve shut while reading?' : ''}`,
    );
  } else if (fast) {
    reasons.push('More water than expected, salt held back well.');
    next.push(
      aired
        ? 'Time the jug again, and look whether the tank was shut: a full tank helps the flow at the tap.'
        : 'Time the jug again, and read the pressure once more.',
    );
  }
  if (s.concentrateGrade !== 'good') {
    const low = s.concentrateRatio < 1;
    reasons.push(
      low
        ? 'Too little to the drain: the restrictor is blocked or too tight, and the membrane will scale.'
        : 'Too much to the drain: the restrictor is missing, bypassed or the wrong one.',
    );
    next.push(
      low
        ? 'Blow the restrictor through or change it; read the drain again.'
        : 'Look at the restrictor’s stated flow and its seat; a flush valve left open does the same.',
    );
  }
  if (reasons.length === 0) {
    reasons.push('Flow, salt and drain all lie within their bands.');
    next.push(
      aired
        ? 'Open the tank, see that the drain stops when it is full, and take the baseline again after the first week.'
        : 'See that the drain stops once nothing is drawn, and take the baseline again after the first week.',
    );
  }
  return { reasons, next };
}

/** Readings that contradict each other or the house. */
export function proofDoubts(r: ProofReadings, site: Site): string[] {
  const out: string[] = [];
  if (r.feedTdsMgL !== undefined && r.productTdsMgL !== undefined && r.productTdsMgL >= r.feedTdsMgL)
    out.push('Product as salty as the feed: were the two samples swapped, or the tubes crossed?');
  if (r.feedTdsMgL !== undefined && Math.abs(r.feedTdsMgL / site.tdsMgL - 1) > 0.3)
    out.push(
      `Feed TDS differs by more than 30 % from the ${formatNumber(site.tdsMgL)} mg/L gauged: has the supply changed?`,
    );
  if (r.temperatureC !== undefined && r.temperatureC > 38)
    out.push('Above 38 °C: is the system on the hot line? Shut it now.');
  if (r.concentrateFlowLMin === 0)
    out.push('No concentrate flow at all: is the drain tube shut or kinked, or is it not making water?');
  return out;
}
