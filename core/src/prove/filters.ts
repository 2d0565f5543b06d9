import { feedWaterAt, supplyOf, type Site } from '../gauge/site.ts';
import { formatNumber } from '../quantity/format.ts';
import { atOpenTap } from '../run/withoutMembrane.ts';
import { agentOf, bedIn, throttleLMin } from '../system/carbon.ts';
import { partIn, type System } from '../system/system.ts';
import { carbonWork } from '../treatment/carbon.ts';
import { lampWork, RAW_TRANSMITTANCE, UV_DOSE } from '../treatment/lamp.ts';
import { failedChecks, type Checks } from './checks.ts';
import { proofFieldsFor, type ProofKey, type ProofReadings } from './fields.ts';
import { worseGrade, type Grade } from './grade.ts';
import { VERDICT_LIMITS, type Compared } from './verdict.ts';

const { abs, hypot, max } = Math;

/** What readings say of a system without a membrane. */
export interface FilterVerdict {
  readonly grade: Grade;
  readonly sentence: string;
  readonly compared: readonly Compared[];
  /** measured flow over what the solver gives at this temperature, filters half way through their life */
  readonly flowAgainstNew: number;
  readonly reasons: readonly string[];
  readonly next: readonly string[];
  readonly doubts: readonly string[];
}

export type FilterProof =
  | { readonly ok: false; readonly missing: readonly ProofKey[] }
  | { readonly ok: true; readonly verdict: FilterVerdict };

/** How far a house's pressure wanders about what was gauged while somebody reads, bar. */
const SUPPLY_WANDERS_BAR = 0.3;
/** Tubes, fittings and cartridges as they are made, share of the flow. */
const PARTS_SHARE = 0.15;

/**
 * Judges filters by the tap's flow against the solver's at this temperature, by the time the carbon and the light have at
 * the flow that was read, and by the chlorine behind the carbon.
 * @returns the missing readings, or the verdict with its limits, reasons and what to do next
 */
export function proveFilters(r: ProofReadings, system: System, site: Site, checks: Checks = {}): FilterProof {
  const missing = proofFieldsFor(system).flatMap((f) => (f.needed && r[f.key] === undefined ? [f.key] : []));
  const { productFlowLMin: flow, temperatureC } = r;
  if (missing.length > 0 || flow === undefined || temperatureC === undefined) return { ok: false, missing };
  const compared = [
    tapFlow(flow, temperatureC, system, site),
    ...carbonTime(flow, system, site),
    ...lampDose(flow, system),
    ...chlorine(r.chlorineMgL, system),
  ];
  const failed = failedChecks(checks);
  const grade = [...compared, ...failed].reduce<Grade>((g, c) => worseGrade(g, c.grade), 'good');
  const expected = compared[0]?.expected ?? 0;
  const ratio = expected > 0 ? flow / expected : 0;
  const found = findings(compared, ratio);
  // nothing is in order that failed when it was tried
  const held = failed.length === 0 || compared.some((c) => c.grade !== 'good') ? found : { reasons: [], next: [] };
  const reasons = [...failed.map((f) => f.reason), ...held.reasons];
  const next = [...failed.map((f) => f.next), ...held.next];
  return {
    ok: true,
    verdict: { grade, sentence: sentenceOf(grade, flow, ratio), compared, flowAgainstNew: ratio, reasons, next, doubts: doubtsOf(temperatureC, flow) },
  };
} // oxfmt-ignore

function tapFlow(flow: number, temperatureC: number, system: System, site: Site): Compared {
  const supply = supplyOf(site, 'today');
  const water = feedWaterAt(site, temperatureC);
  const at = (bar: number): number =>
    atOpenTap(system, { supply: { ...supply, staticBar: max(0, bar) }, water, airBar: site.airBar }).productLMin;
  const free = at(supply.staticBar);
  const most = throttleLMin(system, site);
  if (most < free) return throttled(flow, most);
  const expected = free;
  const off = expected > 0 ? (at(supply.staticBar + SUPPLY_WANDERS_BAR) - expected) / expected : 1;
  const band = hypot(PARTS_SHARE, off, VERDICT_LIMITS.jugError);
  const apart = expected > 0 ? abs(flow / expected - 1) : 1;
  const share = (x: number): string => `${formatNumber(100 * x, 2)} %`;
  return {
    key: 'productFlow',
    label: 'Tap flow',
    unit: 'L/min',
    measured: flow,
    expected,
    low: expected * max(0, 1 - band),
    high: expected * (1 + band),
    grade: apart <= band ? 'good' : apart <= 2 * band ? 'watch' : 'act',
    limits: `good within ± ${share(band)} of what the house’s pressure gives, act beyond ± ${share(2 * band)}`,
  };
}

/** Set by hand to what the carbon bears: more is judged by its time in the carbon, much less is a clog or a slip of the hand. */
function throttled(flow: number, most: number): Compared {
  const share = flow / most;
  return {
    key: 'productFlow',
    label: 'Tap flow, throttled',
    unit: 'L/min',
    measured: flow,
    expected: most,
    low: 0.7 * most,
    high: most,
    grade: share > 1 || share < 0.4 ? 'act' : share < 0.7 ? 'watch' : 'good',
    limits: `the stop valve throttled to ${formatNumber(most, 2)} L/min at the most, for the carbon’s time; good from 70 % of it, act below 40 %`,
  };
}

/** A figure that wants to be at least so much: act below it. */
function atLeast(key: Compared['key'], label: string, unit: string, measured: number, least: number): Compared {
  return {
    key,
    label,
    unit,
    measured,
    expected: least,
    low: least,
    high: max(2 * least, measured),
    grade: measured >= least ? 'good' : 'act',
    limits: `good from ${formatNumber(least, 2)} ${unit} up`,
  };
}

function carbonTime(flow: number, system: System, site: Site): Compared[] {
  const bed = bedIn(system);
  if (bed.bedVolumeL <= 0 || flow <= 0) return [];
  const work = carbonWork(bed, flow, agentOf(site), site.chlorineMgL, site.litresADay);
  return work.wantedSeconds > 0 ? [atLeast('contact', 'Time in the carbon', 's', work.contactSeconds, work.wantedSeconds)] : [];
} // oxfmt-ignore

function lampDose(flow: number, system: System): Compared[] {
  const part = partIn(system, 'lamp');
  if (!part || flow <= 0) return [];
  // the dimmest water it may stand in, and a lamp at the end of its life
  const { doseMJcm2 } = lampWork(part.lamp, flow, RAW_TRANSMITTANCE, part.lamp.lifeHours);
  return [atLeast('dose', 'Light at this flow, lamp at its end', 'mJ/cm²', doseMJcm2, UV_DOSE.classA)];
}

function chlorine(measured: number | undefined, system: System): Compared[] {
  const limit = VERDICT_LIMITS.chlorineMgL;
  if (measured === undefined || bedIn(system).bedVolumeL <= 0) return [];
  return [
    {
      key: 'chlorine',
      label: 'Total chlorine at the tap',
      unit: 'mg/L',
      measured,
      expected: 0,
      low: 0,
      high: limit,
      grade: measured < limit ? 'good' : 'act',
      limits: `good below ${formatNumber(limit, 2)} mg/L`,
    },
  ];
}

function sentenceOf(grade: Grade, flow: number, ratio: number): string {
  const n = formatNumber;
  const figures = `The tap gives ${n(flow, 2)} L/min, ${n(100 * ratio, 2)} % of what it should here`;
  if (grade === 'good') return `${figures}: it does what it should.`;
  if (grade === 'watch') return `${figures}: keep an eye on it, and read again soon.`;
  return `${figures}: something wants doing before you leave.`;
}

function findings(compared: readonly Compared[], ratio: number): { reasons: string[]; next: string[] } {
  const reasons: string[] = [];
  const next: string[] = [];
  const bad = (key: Compared['key']): boolean => compared.some((c) => c.key === key && c.grade !== 'good');
  const say = (reason: string, then: string): void => {
    reasons.push(reason);
    next.push(then);
  };
  if (bad('chlorine'))
    say(
      'Chlorine passes the carbon: spent, or too fast through it.',
      'Throttle the stop valve and read again; still above the limit, change the carbon.',
    );
  if (bad('contact'))
    say(
      'At this flow the water is in the carbon too briefly.',
      'Throttle the stop valve until jug and clock give less, and read again.',
    );
  if (bad('dose'))
    say(
      'At this flow the lamp’s light is too weak at the end of its life: nobody drinks of it so.',
      'Throttle the stop valve until jug and clock give less, and read again.',
    );
  // too much through a throttled tap has been told by its time in the carbon
  if (bad('productFlow') && !(ratio > 1 && bad('contact')))
    if (ratio < 1)
      say(
        'Less water than the house’s pressure gives: a cartridge that clogs, a valve half shut, a kinked tube, or less pressure today.',
        'Read the house’s pressure first, then look at the stop valve and the tubes; then change the sediment cartridge and read again.',
      );
    else
      say(
        'More water than the house’s pressure should give: more pressure than was gauged, or a cartridge left out.',
        'Read the house’s pressure, and see that every housing holds its cartridge, seated over its ring.',
      );
  if (reasons.length === 0)
    say(
      'Flow, and what the filters have of it, lie within their bands.',
      'Look at the joints once more tomorrow: all of it stands at the house’s own pressure.',
    );
  return { reasons, next };
}

function doubtsOf(temperatureC: number, flow: number): string[] {
  return [
    ...(temperatureC > 38 ? ['Above 38 °C: is the system on the hot line? Shut it now.'] : []),
    ...(flow === 0 ? ['Nothing comes: is the stop valve open?'] : []),
  ];
}
