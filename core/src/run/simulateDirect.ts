import { drawsOfDay, type Habits } from '../demand/draws.ts';
import type { Random } from '../demand/random.ts';
import { tdsAfterStand } from '../membrane/stand.ts';
import { simulateDays, type Lived, type Source } from './simulate.ts';
import type { DirectRun } from './openTap.ts';

const { max, min } = Math;

/** Feed water a system without a tank rinses its membrane with as it stops, L: some seconds of its own automatic flush. */
export const RINSE_L = 0.1;

/** A span of days at one running state. */
export interface DirectSpan {
  readonly run: DirectRun;
  readonly days: number;
}

/** A membrane at its open tap: each draw runs it for as long as the tap takes, begins with what stood, and ends with a rinse. */
export class OpenTapSource implements Source {
  readonly contentL = 0;
  readonly busy = false;
  madeL = 0;
  wasteL = 0;
  starts = 0;
  runMinutes = 0;
  private run: DirectRun;
  /** end of the last draw on the source's own clock, min; a night's stand before the first */
  private last: number;

  constructor(run: DirectRun, lastMin = -480) {
    this.run = run;
    this.last = lastMin;
  }

  /** Another month begins, its clock at nought again. */
  turn(run: DirectRun, pastMin: number): void {
    this.run = run;
    this.last -= pastMin;
  }

  minute(): void {
    // nothing goes on while the tap is shut
  }

  give(litres: number, clockMin: number): { litres: number; mg: number; minutes: number } {
    const { run } = this;
    const flow = max(1e-6, run.tapFlowLMin);
    const at = max(this.last, clockMin);
    const minutes = litres / flow;
    const old = min(litres, run.standing.productL);
    const stood = tdsAfterStand(run.standing, (at - this.last) / 60);
    this.madeL += litres;
    this.wasteL += (minutes * run.working.out.concentrateLDay) / 1440 + (run.rinses ? RINSE_L : 0);
    this.runMinutes += minutes;
    this.starts++;
    this.last = at + minutes;
    return { litres, mg: old * stood + (litres - old) * run.standing.productTdsMgL, minutes };
  }
}

/**
 * Lives through spans of days at the open tap.
 * @param random the caller's generator: the same one gives the same days
 * @returns one entry a span; waits are draws that take over a minute at the tap, nothing is ever short
 */
export function simulateDirect(spans: readonly DirectSpan[], habits: Habits, random: Random): Lived[] {
  const [first] = spans;
  if (!first) return [];
  const source = new OpenTapSource(first.run);
  let past = 0;
  return spans.map(({ run, days }) => {
    source.turn(run, past);
    past = 1440 * days;
    return { ...simulateDays(source, days, () => drawsOfDay(habits, random)), lowestL: 0 };
  });
}
