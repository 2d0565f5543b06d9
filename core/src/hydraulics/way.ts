import { rootOfFalling } from '../quantity/root.ts';
import { tubeDropBar, type TubeRun } from './tube.ts';

/** Tubes, filters and fittings one after the other, as what passes them feels it. */
export interface Way {
  /** those of one bore as one run, rises added */
  readonly tubes: readonly TubeRun[];
  /** filters and housings, bar per L/min */
  readonly barPerLMin: number;
  /** taps and valves, bar per (L/min)^2 */
  readonly barPerLMin2: number;
  /** lost at any flow, bar; negative where something lifts */
  readonly bar: number;
}

export const NO_WAY: Way = { tubes: [], barPerLMin: 0, barPerLMin2: 0, bar: 0 };

/**
 * Pressure lost along a way, bar, its rise with it.
 * @param flowLMin 0 to 60 L/min; @param temperatureC 0 to 60 C
 */
export function wayDropBar(w: Way, flowLMin: number, temperatureC: number): number {
  let lost = w.bar + w.barPerLMin * flowLMin + w.barPerLMin2 * flowLMin * flowLMin;
  for (const tube of w.tubes) lost += tubeDropBar(tube, flowLMin, temperatureC);
  return lost;
}

/** Two ways one after the other. */
export function both(a: Way, b: Way): Way {
  return {
    tubes: [...a.tubes, ...b.tubes].reduce<TubeRun[]>(withTube, []),
    barPerLMin: a.barPerLMin + b.barPerLMin,
    barPerLMin2: a.barPerLMin2 + b.barPerLMin2,
    bar: a.bar + b.bar,
  };
}

/** A tube added to those of its bore. */
export function withTube(tubes: readonly TubeRun[], tube: TubeRun): TubeRun[] {
  const same = tubes.findIndex((t) => t.boreMm === tube.boreMm);
  if (same < 0) return [...tubes, tube];
  return tubes.map((t, i) =>
    i === same ? { ...t, lengthM: t.lengthM + tube.lengthM, riseM: t.riseM + tube.riseM } : t,
  );
}

/** Whether a way is none at all. */
export const isNoWay = (w: Way): boolean =>
  w.tubes.length === 0 && w.barPerLMin === 0 && w.barPerLMin2 === 0 && w.bar === 0;

/**
 * Flow a pressure difference drives along a way, L/min, by a bracket that shrinks.
 * @param bar over the way, its rise included; @returns 0 where it does not lift the water
 */
export function wayFlowLMin(w: Way, bar: number, temperatureC: number): number {
  if (bar <= wayDropBar(w, 0, temperatureC)) return 0;
  return rootOfFalling((q) => bar - wayDropBar(w, q, temperatureC), 0, 30, 1e-9);
}
