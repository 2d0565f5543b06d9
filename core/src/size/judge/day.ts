import { dayTotals, drawsOfDay, throughTheDay, scaledDay, type Draw, type Habits } from '../../demand/draws.ts';
import { seeded } from '../../demand/random.ts';
import { feedWaterAt, type Site } from '../../gauge/site.ts';
import { pressureForFlowBar } from '../../hydraulics/outlet.ts';
import { reopenShare } from '../../hydraulics/train.ts';
import type { Design } from '../../system/design.ts';
import { designInHouse, type InHouse } from '../../system/inHouse.ts';
import type { Catalogue } from '../../parts/catalogue.ts';
import { runDirect } from '../../run/openTap.ts';
import { operatingMap } from '../../run/fill.ts';
import {
  simulateDays,
  monthTable,
  standingBeside,
  TankSource,
  type Lived,
  type ServedDraw,
} from '../../run/simulate.ts';
import { OpenTapSource } from '../../run/simulateDirect.ts';
import { waterAtPressureL, type AirTank } from '../../hydraulics/tank.ts';

const { abs, floor, min } = Math;

/** Content of the tank at a minute of the day. */
export interface DayPoint {
  readonly minute: number;
  readonly contentL: number;
}

/** One day of a design with its draws. */
export interface LivedDay {
  /** every five minutes and at each draw; empty without a tank */
  readonly points: readonly DayPoint[];
  readonly draws: readonly ServedDraw[];
  /** content when full, and the least the tap runs at as wanted, L; 0 without a tank */
  readonly fullL: number;
  readonly emptyL: number;
  readonly madeL: number;
  readonly wasteL: number;
  readonly starts: number;
  /** of all that was drunk, mg/L */
  readonly tdsMgL: number;
}

/** Days looked at for one that is like the mean one. */
const SEEDS = 40;
/** A rounding apart, L. */
const SAME_L = 0.005;
/** When somebody cooks, minutes of the day. */
const NOON = 750;
const EVENING = 1110;

/**
 * A day as this household usually has it, with its largest draw in it: of many, the one nearest to the mean day, its other
 * draws brought to the mean day's litres. A largest draw above the mean day's litres is not in it.
 */
export function usualDay(habits: Habits): Draw[] {
  const { litresADay, largestDrawL } = habits;
  const most = floor(litresADay / largestDrawL);
  const far = (draws: readonly Draw[]): number =>
    abs(dayTotals(draws).litresADay - litresADay) +
    (most > 0 && !draws.some((d) => d.litres === largestDrawL) ? litresADay : 0);
  const [first, ...others] = Array.from({ length: SEEDS }, (_, i) => drawsOfDay(habits, seeded(i + 1)));
  const best = others.reduce((a, b) => (far(b) < far(a) ? b : a), first ?? []);
  const drawn = best.filter((d) => d.litres === largestDrawL);
  const large = (drawn.length > 0 ? drawn : [{ minute: EVENING, litres: largestDrawL }]).slice(0, most);
  const left = litresADay - dayTotals(large).litresADay;
  if (left < SAME_L) return large;
  const small = best.filter((d) => d.litres !== largestDrawL);
  return throughTheDay([...large, ...(small.length > 0 ? scaledDay(small, left) : [{ minute: NOON, litres: left }])]);
}

/** The day somebody drew for this household, at the litres it uses now; else its usual day. */
export function householdDay(drawn: readonly Draw[] | null, habits: Habits): Draw[] {
  return drawn ? scaledDay(drawn, habits.litresADay) : usualDay(habits);
}

/**
 * Lives one day minute by minute, from a full tank at midnight.
 * @param draws in any order; minutes 0 to 1439, litres above 0
 * @param temperatureC of the feed that day
 */
export function simulateDay(
  design: Design,
  catalogue: Catalogue,
  site: Site,
  draws: readonly Draw[],
  temperatureC: number,
): LivedDay {
  const plant = designInHouse(design, catalogue, site, 'today');
  const sorted = [...draws].sort((a, b) => a.minute - b.minute || a.litres - b.litres);
  return plant.tank
    ? dayOfTank(plant, plant.tank, site, sorted, temperatureC)
    : dayAtOpenTap(plant, site, sorted, temperatureC);
}

function dayOfTank(plant: InHouse, tank: AirTank, site: Site, draws: readonly Draw[], temperatureC: number): LivedDay {
  const map = operatingMap(plant.train, feedWaterAt(site, temperatureC));
  const standing = standingBeside(map, plant.train, feedWaterAt(site, temperatureC), plant.holdUp);
  const table = monthTable(map, tank, 1, reopenShare(plant.train), plant.airBar, standing);
  const fullL = table.closeL;
  const emptyBar = pressureForFlowBar(plant.outlet, site.wantedTapFlowLMin, temperatureC);
  const emptyL = min(fullL, waterAtPressureL(tank, emptyBar, plant.airBar));
  const points: DayPoint[] = [{ minute: 0, contentL: fullL }];
  const served: ServedDraw[] = [];
  // full, with what a day like this leaves in it
  const before = new TankSource(table, emptyL);
  simulateDays(before, 1, () => draws);
  const lived = simulateDays(new TankSource(table, emptyL, before.tdsMgL), 1, () => draws, {
    served: (d) => served.push(d),
    content: (minute, contentL) => points.push({ minute, contentL }),
  });
  return {
    points,
    draws: served.sort((a, b) => a.minute - b.minute || a.litres - b.litres),
    fullL,
    emptyL,
    ...sums(lived),
  };
}

function dayAtOpenTap(plant: InHouse, site: Site, draws: readonly Draw[], temperatureC: number): LivedDay {
  const run = runDirect(plant.train, feedWaterAt(site, temperatureC), plant.outlet, plant.holdUp);
  const served: ServedDraw[] = [];
  // the day before ended as this one does
  const source = new OpenTapSource(run, (draws.at(-1)?.minute ?? 0) - 1440);
  const lived = simulateDays(source, 1, () => draws, { served: (d) => served.push(d) });
  return { points: [], draws: served, fullL: 0, emptyL: 0, ...sums(lived) };
}

const sums = ({ madeL, wasteL, starts, tdsMgL }: Lived): Pick<LivedDay, 'madeL' | 'wasteL' | 'starts' | 'tdsMgL'> => ({
  madeL,
  wasteL,
  starts,
  tdsMgL,
});
