import { drawsOfDay, type Habits } from '../demand/draws.ts';
import type { Random } from '../demand/random.ts';
import { tdsAfterStand } from '../membrane/stand.ts';
import type { DirectRun } from './openTap.ts';
import type { Lived } from './live.ts';

const { max, min } = Math;

/** Feed water a system without a tank rinses its membrane with as it stops, L: some seconds of its own automatic flush. */
export const RINSE_L = 0.1;

/** A span of days at one running state. */
export interface DirectSpan {
  readonly run: DirectRun;
  readonly days: number;
}

/**
 * Lives through spans of days draw by draw: each draw runs the system for as long as the tap takes and then a rinse of its
 * membrane, and begins with what crept through since the last one.
 * @param random the caller's generator: the same one gives the same days
 * @returns one entry a span; waits are draws that take over a minute at the tap, nothing is ever short
 */
export function liveDirect(spans: readonly DirectSpan[], habits: Habits, random: Random): Lived[] {
  let last = -480; // minutes since the beginning of the first day; a night's stand before it
  let dayStart = 0;
  return spans.map(({ run, days }) => {
    const flow = max(1e-6, run.tapFlowLMin);
    const waste = run.working.out.concentrateLDay / 1440;
    let drunkL = 0;
    let wasteL = 0;
    let waits = 0;
    let count = 0;
    let longestWaitMin = 0;
    let runMinutes = 0;
    let drunkMg = 0;
    for (let day = 0; day < days; day++) {
      for (const draw of drawsOfDay(habits, random)) {
        const at = max(last, dayStart + draw.minute);
        const minutes = draw.litres / flow;
        const old = min(draw.litres, run.standing.productL);
        const stood = tdsAfterStand(run.standing, (at - last) / 60);
        drunkMg += old * stood + (draw.litres - old) * run.standing.productTdsMgL;
        drunkL += draw.litres;
        wasteL += minutes * waste + RINSE_L;
        runMinutes += minutes;
        count++;
        if (minutes > 1) waits++;
        longestWaitMin = max(longestWaitMin, minutes);
        last = at + minutes;
      }
      dayStart += 1440;
    }
    return {
      days,
      drunkL,
      madeL: drunkL,
      wasteL,
      waits,
      draws: count,
      longestWaitMin,
      shortL: 0,
      starts: count,
      runMinutes,
      tdsMgL: drunkL > 0 ? drunkMg / drunkL : 0,
      lowestL: 0,
    };
  });
}
