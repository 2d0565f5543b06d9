import { feedWaterAt, type Site } from '../gauge/site.ts';
import { pressureAtWaterBar, waterAtPressureL, type AirTank } from '../hydraulics/tank.ts';
import { closingBar, solveTrain } from '../hydraulics/train.ts';
import { wayFlowLMin, type Way } from '../hydraulics/way.ts';
import { formatNumber } from '../quantity/format.ts';
import { fillTank, operatingMap } from '../run/fill.ts';
import { systemInHouse } from '../system/inHouse.ts';
import { FILTERS_APART_BAR } from '../system/load.ts';
import { ofWork, partIn, type System } from '../system/system.ts';
import type { ProofReadings } from './fields.ts';
import type { Grade, OtherSign } from './grade.ts';

/** A drain that still runs with the tank full: seen at all, and as much as a third of what the restrictor lets by, L/min and share. */
const RUNS_ON = { seenLMin: 0.01, share: 0.3, backLMin: 0.003 } as const;
/** Share of what a pressure should be below which something stands in the way. */
const SHORT = { watch: 0.8, act: 0.6 } as const;

const shortGrade = (read: number, wanted: number): Grade =>
  read < SHORT.act * wanted ? 'act' : read < SHORT.watch * wanted ? 'watch' : 'good';

/** Lost in ten minutes by what is shut in: seen at all, and a leak, bar. */
const LOST = { watch: 0.1, act: 0.3 } as const;
/** Water after a bed of calcite that does its work; above, it stood long or the bed is of magnesia. */
const AFTER_MINERALS = { lowPH: 6.5, highPH: 9.2, hardnessMgL: 15 } as const;

/** Hot feed, a drain that runs on, no air in the tank, hardly any pressure at the membrane: never as it should be. */
export function otherSigns(r: ProofReadings, system: System, site: Site, restrictorLMin: number): OtherSign[] {
  return [
    ...feedSigns(r, system, site, restrictorLMin),
    ...storedSigns(r, system, site),
    ...stoodSigns(r, system, site),
    ...mineralSigns(r),
  ];
}

/** A glass, L, and how late the drain may stop after it is made good: times and minutes. */
const GLASS_L = 0.25;
const STOPS_LATE = { times: 2, minutes: 5 } as const;
/** The jug that is filled first from a full tank, L. */
const FIRST_L = 0.5;

/**
 * What a full tank gives into the first half litre, L/min; nothing where it holds less.
 * @param fullBar it stands at; @param outlet from it to the open tap
 */
export function firstFlowLMin(
  tank: AirTank,
  outlet: Way,
  fullBar: number,
  temperatureC: number,
  airBar: number,
): number {
  const fullL = waterAtPressureL(tank, fullBar, airBar);
  if (fullL < FIRST_L) return 0;
  return wayFlowLMin(outlet, pressureAtWaterBar(tank, fullL - FIRST_L / 2, airBar), temperatureC);
}

/** What the tank, the way to the tap and what is shut in show. */
function storedSigns(r: ProofReadings, system: System, site: Site): OtherSign[] {
  const n = formatNumber;
  const out: OtherSign[] = [];
  const { tightDropBar: lost, tankFullBar, tapFlowLMin, temperatureC } = r;
  if (lost !== undefined && lost > LOST.watch)
    out.push({
      grade: lost > LOST.act ? 'act' : 'watch',
      reason: `${n(lost, 2)} bar are lost in ten minutes with everything shut: water gets out, or back.`,
      next: 'Every joint with a dry paper towel, the drain, then a valve that does not hold; read it again.',
    });
  const plant = systemInHouse(system, site, 'worst');
  if (!plant?.tank || temperatureC === undefined) return out;
  const water = feedWaterAt(site, Math.min(45, temperatureC));
  const closes = closingBar(plant.train, water);
  if (tankFullBar !== undefined) {
    const grade = shortGrade(tankFullBar, closes);
    if (grade !== 'good')
      out.push({
        grade,
        reason: `The full tank stands at ${n(tankFullBar, 2)} bar; it should close at about ${n(closes, 2)}.`,
        next: 'Pressure at the membrane first; then a shut-off that closes early, a leak back, or a tank that was not full yet.',
      });
  }
  if (r.drainStopMin !== undefined) {
    const fullL = waterAtPressureL(plant.tank, closes, site.airBar);
    const due = fillTank(
      operatingMap(plant.train, water),
      plant.tank,
      Math.max(0, fullL - GLASS_L),
      site.airBar,
    ).minutes;
    if (r.drainStopMin > STOPS_LATE.times * due + STOPS_LATE.minutes)
      out.push({
        grade: 'watch',
        reason: `After a glass the drain stops in ${n(r.drainStopMin, 2)} min; about ${n(due, 2)} are due in this house’s coldest hour.`,
        next: 'Tank valve fully open, the tank’s air, the pressure at the membrane; then a shut-off that closes late.',
      });
  }
  const tank = plant.tank;
  const fullBar = tankFullBar ?? closes;
  const fromFull = firstFlowLMin(tank, plant.outlet, fullBar, water.temperatureC, site.airBar);
  const halfBar = pressureAtWaterBar(tank, waterAtPressureL(tank, fullBar, site.airBar) / 2, site.airBar);
  const fromHalf = wayFlowLMin(plant.outlet, halfBar, water.temperatureC);
  for (const [read, should, how] of [
    [tapFlowLMin, fromFull, 'full'],
    [r.tapHalfLMin, fromHalf, 'half full'],
  ] as const) {
    const grade = read === undefined ? 'good' : shortGrade(read, should);
    if (read !== undefined && grade !== 'good')
      out.push({
        grade,
        reason: `From a ${how} tank the tap gives ${n(read, 2)} L/min; ${n(should, 2)} is what this way to it lets through.`,
        next: 'Tank valve fully open; a kink behind the tank; then what follows it: polish, minerals, the tap’s own strainer. And the tank’s air.',
      });
  }
  return out;
}

/** What stood beside the membrane may be off by so much before something else lets salt across. */
const STOOD_SHARE = 1.3;

/** What the first glass shows: at the most, what stands on the product's side of the membrane has become feed. */
function stoodSigns(r: ProofReadings, system: System, site: Site): OtherSign[] {
  const n = formatNumber;
  const { firstGlassMgL: first, productTdsMgL: product, feedTdsMgL: feed } = r;
  const holds = systemInHouse(system, site, 'today')?.holdUp.productL;
  if (first === undefined || product === undefined || feed === undefined || holds === undefined) return [];
  const share = Math.min(1, holds / GLASS_L);
  const most = STOOD_SHARE * (share * feed + (1 - share) * product);
  if (first <= most) return [];
  return [
    {
      grade: 'watch',
      reason: `The first glass after it stood holds ${n(first, 2)} mg/L; ${n(most, 2)} at the most creeps through the membrane while it stands.`,
      next: 'The seals of the membrane, and the non-return valve: feed finds a way across while nothing runs. Until then the first glass is poured away.',
    },
  ];
}

/** What the minerals show. */
function mineralSigns({ mineralPH: pH, mineralHardnessMgL: hardness }: ProofReadings): OtherSign[] {
  const n = formatNumber;
  const out: OtherSign[] = [];
  if (pH !== undefined && (pH < AFTER_MINERALS.lowPH || pH > AFTER_MINERALS.highPH))
    out.push({
      grade: 'watch',
      reason:
        pH < AFTER_MINERALS.lowPH
          ? `pH ${n(pH, 2)} after the minerals: the bed is spent, or water finds a way round it.`
          : `pH ${n(pH, 2)} after the minerals: the first glass of one that stood, or a bed of magnesia.`,
      next:
        pH < AFTER_MINERALS.lowPH
          ? 'Weigh or look at the bed; its arrow; then fill it or change it.'
          : 'Run a glass and read again; still as high, a smaller bed.',
    });
  if (hardness !== undefined && hardness < AFTER_MINERALS.hardnessMgL)
    out.push({
      grade: 'watch',
      reason: `Only ${n(hardness, 2)} mg/L of hardness after the minerals: the bed gives little.`,
      next: 'The bed may be spent: look at it, and at its arrow.',
    });
  return out;
}

/** What the feed, the drain and the tank's air show. */
function feedSigns(r: ProofReadings, system: System, site: Site, restrictorLMin: number): OtherSign[] {
  const n = formatNumber;
  const out: OtherSign[] = [];
  const most = partIn(system, 'element')?.maxTemperatureC ?? 38;
  if (r.temperatureC !== undefined && r.temperatureC > most)
    out.push({
      grade: 'act',
      reason: `The feed is ${n(r.temperatureC)} °C; the membrane bears ${n(most)}. It is on the hot line, or the mixer lets hot water across.`,
      next: 'Shut the feed valve now, find the cold line, and read rejection again once it runs cold.',
    });
  const drain = r.drainWhenFullLMin ?? 0;
  const stores = ofWork(system, 'stores').length > 0;
  if (drain > RUNS_ON.seenLMin)
    out.push({
      grade: drain > RUNS_ON.share * restrictorLMin ? 'act' : 'watch',
      reason: `The drain runs ${n(drain, 2)} L/min with ${stores ? 'the tank full' : 'the tap shut'}: ${n(1440 * drain, 2)} L a day go to waste.`,
      next: partIn(system, 'tank')
        ? 'Tank valve shut: if the drain stops, the tank or its air is the cause; if not, the non-return valve leaks, then the shut-off.'
        : stores
          ? 'Float held up by hand: if the drain stops, the float is the cause; if not, the shut-off.'
          : 'Pump unplugged: if the drain stops, the pressure switch is the cause, or a non-return valve that lets the product back; if not, the electric valve.',
    });
  const back = r.drainFeedOffLMin ?? 0;
  if (back > RUNS_ON.backLMin)
    out.push({
      grade: 'watch',
      reason: `With the feed off the drain still gives ${n(1000 * back, 2)} mL/min: the tank empties backwards through the non-return valve.`,
      next: 'Change the non-return valve, or its seat; then feed off once more, and the drain stands still.',
    });
  const before = r.feedPressureBar;
  const boosted = partIn(system, 'pump') !== undefined;
  if (
    before !== undefined &&
    r.membranePressureBar !== undefined &&
    !boosted &&
    before - r.membranePressureBar > FILTERS_APART_BAR
  )
    out.push({
      grade: 'watch',
      reason: `${n(before - r.membranePressureBar, 2)} bar are lost between the feed and the membrane: the pre-filters are clogged, or a wrapper was left on.`,
      next: 'Change the pre-filters; in new work look for a wrapper or a plug first.',
    });
  const tank = partIn(system, 'tank');
  if (tank && r.tankAirBar !== undefined) {
    const grade = shortGrade(r.tankAirBar, tank.airChargeBar);
    if (grade !== 'good')
      out.push({
        grade,
        reason: `The empty tank holds ${n(r.tankAirBar, 2)} bar of air where ${n(tank.airChargeBar, 2)} belong: it stores water and does not give it back.`,
        next: 'Empty it with the tap open, pump air in at its valve, and look whether water comes out there: then its diaphragm is gone.',
      });
  }
  // by the worst hour: a supply that was only busy is no fault
  const plant = systemInHouse(system, site, 'worst');
  if (plant && r.membranePressureBar !== undefined && r.temperatureC !== undefined) {
    const should = solveTrain(plant.train, feedWaterAt(site, Math.min(45, r.temperatureC)), 0).inletBar;
    const grade = shortGrade(r.membranePressureBar, should);
    if (grade !== 'good')
      out.push({
        grade,
        reason: `Only ${n(r.membranePressureBar, 2)} bar at the membrane; from this supply it should see about ${n(should, 2)} even at the worst hour.`,
        next: 'Read the pressure at the stop valve, then before and after the filters: a valve half shut, a kinked tube, a full filter, or a pump that does not run.',
      });
  }
  return out;
}
