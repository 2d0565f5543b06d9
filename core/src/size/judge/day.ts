import { dayTotals, drawsOfDay, throughTheDay, scaledDay, type Draw, type Habits } from '../../demand/draws.ts';
import { seeded } from '../../demand/random.ts';
import { feedWaterAt, type Site } from '../../gauge/site.ts';
import { pressureForFlowBar } from '../../hydraulics/outlet.ts';
import { reopenShare } from '../../hydraulics/train.ts';
import type { Design } from '../../system/design.ts';
import { plantOf, type Plant } from '../../system/plant.ts';
import { tdsAfterStand } from '../../membrane/stand.ts';
import type { Catalogue } from '../../parts/catalogue.ts';
import { runDirect } from '../../run/openTap.ts';
import { makingAt, operatingMap } from '../../run/fill.ts';
import { pressureAtWaterBar, waterAtPressureL, type AirTank } from '../../hydraulics/tank.ts';

const { abs, max, min } = Math;

/** Content of the tank at a minute of the day. */
export interface DayPoint {
  readonly minute: number;
  readonly contentL: number;
}

/** One opening of the tap and what came of it. */
export interface ServedDraw extends Draw {
  /** what ran at once, L; the rest waited */
  readonly atOnceL: number;
  /** until the last of it ran, min; at an open tap without a tank the time it took */
  readonly waitMin: number;
  /** not there within the hour, L */
  readonly shortL: number;
  /** as drunk, mg/L */
  readonly tdsMgL: number;
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

/** Somebody gives up after this long, min. */
const PATIENCE_MIN = 60;

/** Days looked at for one that is like the mean one. */
const SEEDS = 40;

/**
 * A day as this household usually has it, with its largest draw in it: of many, the one nearest to the mean day, its other
 * draws brought to the mean day's litres.
 */
export function usualDay(habits: Habits): Draw[] {
  const { litresADay, largestDrawL } = habits;
  const far = (draws: readonly Draw[]): number =>
    abs(dayTotals(draws).litresADay - litresADay) +
    (litresADay > largestDrawL && !draws.some((d) => d.litres === largestDrawL) ? litresADay : 0);
  const [first, ...others] = Array.from({ length: SEEDS }, (_, i) => drawsOfDay(habits, seeded(i + 1)));
  const best = others.reduce((a, b) => (far(b) < far(a) ? b : a), first ?? []);
  const large = best.filter((d) => d.litres === largestDrawL);
  const left = litresADay - dayTotals(large).litresADay;
  const small = best.filter((d) => d.litres !== largestDrawL);
  if (best.length === 0) return [{ minute: 720, litres: litresADay }];
  return small.length > 0 && left > 0
    ? throughTheDay([...large, ...scaledDay(small, left)])
    : scaledDay(best, litresADay);
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
export function liveDay(
  design: Design,
  catalogue: Catalogue,
  site: Site,
  draws: readonly Draw[],
  temperatureC: number,
): LivedDay {
  const plant = plantOf(design, catalogue, site, 'today');
  const sorted = [...draws].sort((a, b) => a.minute - b.minute || a.litres - b.litres);
  return plant.tank
    ? dayOfTank(plant, plant.tank, site, sorted, temperatureC)
    : dayAtOpenTap(plant, site, sorted, temperatureC);
}

interface Open {
  readonly draw: Draw;
  atOnceL: number;
  leftL: number;
  mg: number;
  doneAt: number;
}

function dayOfTank(plant: Plant, tank: AirTank, site: Site, draws: readonly Draw[], temperatureC: number): LivedDay {
  const map = operatingMap(plant.train, feedWaterAt(site, temperatureC));
  const fullL = waterAtPressureL(tank, map.closeBar, plant.airBar);
  const reopenL = waterAtPressureL(tank, map.closeBar * reopenShare(plant.train), plant.airBar);
  const emptyBar = pressureForFlowBar(plant.outlet, site.wantedTapFlowLMin, temperatureC);
  const emptyL = min(fullL, waterAtPressureL(tank, emptyBar, plant.airBar));
  const half = makingAt(map, map.closeBar / 2);
  let content = fullL;
  let stored = half.permeate > 0 ? (content * half.salt) / half.permeate : 0;
  let filling = false;
  let madeL = 0;
  let wasteL = 0;
  let starts = 0;
  const points: DayPoint[] = [{ minute: 0, contentL: content }];
  const all: Open[] = draws.map((draw) => ({ draw, atOnceL: 0, leftL: draw.litres, mg: 0, doneAt: draw.minute }));
  const open: Open[] = [];
  let next = 0;
  for (let minute = 0; minute < 1440; minute++) {
    if (filling) {
      const now = makingAt(map, pressureAtWaterBar(tank, content, plant.airBar));
      content += now.permeate / 1440;
      stored += now.salt / 1440;
      madeL += now.permeate / 1440;
      wasteL += now.concentrate / 1440;
      if (content >= fullL) filling = false;
    }
    const fresh = next;
    while (all[next]?.draw.minute === minute) {
      const o = all[next++];
      if (o) open.push(o);
    }
    if (next > fresh) points.push({ minute, contentL: content });
    for (const o of open) {
      const take = min(o.leftL, max(0, content - emptyL));
      if (take > 0) {
        const mg = (stored * take) / content;
        stored -= mg;
        content -= take;
        o.mg += mg;
        o.leftL -= take;
        o.doneAt = minute;
        if (minute === o.draw.minute) o.atOnceL = take;
      }
    }
    if (next > fresh) points.push({ minute, contentL: content });
    for (let i = open.length - 1; i >= 0; i--) {
      const o = open[i];
      if (o && (o.leftL < 1e-9 || minute - o.draw.minute >= PATIENCE_MIN)) open.splice(i, 1);
    }
    if (!filling && content <= reopenL) {
      filling = true;
      starts++;
    }
    if (minute % 5 === 4) points.push({ minute: minute + 1, contentL: content });
  }
  const served = all.map((o): ServedDraw => {
    const drunk = o.draw.litres - o.leftL;
    return {
      ...o.draw,
      atOnceL: o.atOnceL,
      waitMin: o.leftL < 1e-9 ? o.doneAt - o.draw.minute : PATIENCE_MIN,
      shortL: o.leftL < 1e-9 ? 0 : o.leftL,
      tdsMgL: drunk > 0 ? o.mg / drunk : 0,
    };
  });
  return { points, draws: served, fullL, emptyL, madeL, wasteL, starts, tdsMgL: meanTds(served) };
}

function dayAtOpenTap(plant: Plant, site: Site, draws: readonly Draw[], temperatureC: number): LivedDay {
  const run = runDirect(plant.train, feedWaterAt(site, temperatureC), plant.outlet, plant.holdUp);
  const flow = max(1e-6, run.tapFlowLMin);
  let last = (draws.at(-1)?.minute ?? 0) - 1440;
  let madeL = 0;
  const served = draws.map((draw): ServedDraw => {
    const at = max(last, draw.minute);
    const old = min(draw.litres, run.standing.productL);
    const stood = tdsAfterStand(run.standing, (at - last) / 60);
    const waitMin = draw.litres / flow;
    last = at + waitMin;
    madeL += draw.litres;
    return {
      ...draw,
      atOnceL: draw.litres,
      waitMin,
      shortL: 0,
      tdsMgL: (old * stood + (draw.litres - old) * run.standing.productTdsMgL) / draw.litres,
    };
  });
  const { out } = run.working;
  return {
    points: [],
    draws: served,
    fullL: 0,
    emptyL: 0,
    madeL,
    wasteL: out.permeateLDay > 0 ? (madeL * out.concentrateLDay) / out.permeateLDay : 0,
    starts: draws.length,
    tdsMgL: meanTds(served),
  };
}

function meanTds(draws: readonly ServedDraw[]): number {
  const litres = draws.reduce((s, d) => s + d.litres - d.shortL, 0);
  return litres > 0 ? draws.reduce((s, d) => s + (d.litres - d.shortL) * d.tdsMgL, 0) / litres : 0;
}
