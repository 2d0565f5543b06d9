import type { Draw } from '../demand/draws.ts';
import { tdsAfterStand } from '../membrane/stand.ts';
import { PATIENCE_MIN, type MonthTable } from './simulate.ts';

const { floor, max, min } = Math;

/** What came of some days, in the figures designs are compared by. */
export interface Sampled {
  readonly drunkL: number;
  readonly madeL: number;
  readonly wasteL: number;
  readonly runMinutes: number;
  readonly starts: number;
  /** as drunk, mg/L, weighted by litres */
  readonly tdsMgL: number;
}

/** A table summed along its content: minutes, litres to the drain and salt it takes to fill from nothing up to each cell. */
interface Summed {
  readonly cellL: number;
  readonly minutes: Float64Array;
  readonly waste: Float64Array;
  readonly salt: Float64Array;
}

function summed({ closeL, product, concentrate, salt }: MonthTable): Summed {
  const cells = product.length - 1;
  const cellL = closeL / cells;
  const sums = { minutes: new Float64Array(cells + 1), waste: new Float64Array(cells + 1), salt: new Float64Array(cells + 1) };
  const each = (i: number): number => 1 / max(1e-9, product[i] ?? 0);
  for (let i = 0; i < cells; i++) {
    const [a, b] = [each(i), each(i + 1)];
    const half = cellL / 2;
    sums.minutes[i + 1] = (sums.minutes[i] ?? 0) + half * (a + b);
    sums.waste[i + 1] = (sums.waste[i] ?? 0) + half * (a * (concentrate[i] ?? 0) + b * (concentrate[i + 1] ?? 0));
    sums.salt[i + 1] = (sums.salt[i] ?? 0) + half * (a * (salt[i] ?? 0) + b * (salt[i + 1] ?? 0));
  }
  return { cellL, ...sums };
} // oxfmt-ignore

/** A sum at a content between cells. */
function at(sums: Float64Array, cells: number): number {
  const i = min(sums.length - 2, max(0, floor(cells)));
  const a = sums[i] ?? 0;
  return a + ((sums[i + 1] ?? 0) - a) * (cells - i);
}

/** The cell, with its part, at which a rising sum reaches a value. */
function cellOf(sums: Float64Array, value: number): number {
  let low = 0;
  let high = sums.length - 1;
  while (high - low > 1) {
    const mid = (low + high) >> 1;
    if ((sums[mid] ?? 0) <= value) low = mid;
    else high = mid;
  }
  const a = sums[low] ?? 0;
  const b = sums[high] ?? 0;
  return low + (b > a ? (value - a) / (b - a) : 0);
}

/**
 * Lives days with a tank from draw to draw instead of minute by minute: the fast table of `simulateDays`, which it gives the
 * same litres, waste and salt as. Full at first, with what half a fill carries.
 * @param emptyL content at which the tap no longer runs as wanted, L
 * @param leadDays of the days, so many are lived before anything is counted
 */
export function sampleDays(table: MonthTable, emptyL: number, days: readonly (readonly Draw[])[], leadDays: number): Sampled {
  const { closeL, reopenL, standing } = table;
  const sums = summed(table);
  const end = sums.minutes.length - 1;
  const fullMinutes = sums.minutes[end] ?? 0;
  const half = floor(end / 2);
  let contentL = closeL;
  let mg = closeL * ((table.salt[half] ?? 0) / max(1e-9, table.product[half] ?? 0));
  let busy = false;
  let clock = 0;
  let stopped = 0;
  let counted = { drunkL: 0, madeL: 0, wasteL: 0, runMinutes: 0, starts: 0, mg: 0 };
  const advance = (to: number): void => {
    const span = to - clock;
    clock = to;
    if (!busy || span <= 0) return;
    const from = contentL / sums.cellL;
    const began = at(sums.minutes, from);
    const reached = began + span;
    const full = reached >= fullMinutes;
    const cell = full ? end : cellOf(sums.minutes, reached);
    counted.runMinutes += (full ? fullMinutes : reached) - began;
    counted.wasteL += at(sums.waste, cell) - at(sums.waste, from);
    counted.madeL += cell * sums.cellL - contentL;
    mg += at(sums.salt, cell) - at(sums.salt, from);
    contentL = cell * sums.cellL;
    if (!full) return;
    busy = false;
    stopped = to - (reached - fullMinutes);
  };
  const take = (litres: number): number => {
    const taken = min(litres, max(0, contentL - emptyL));
    if (taken > 0) {
      const carried = (mg * taken) / contentL;
      counted.mg += carried;
      counted.drunkL += taken;
      mg -= carried;
      contentL -= taken;
    }
    if (!busy && contentL <= reopenL) {
      busy = true;
      counted.starts++;
      if (standing) {
        const cell = contentL / sums.cellL;
        const i = min(end, max(0, floor(cell)));
        const fresh = (table.salt[i] ?? 0) / max(1e-9, table.product[i] ?? 0);
        mg += standing.productL * max(0, tdsAfterStand(standing, (clock - stopped) / 60) - fresh);
      }
    }
    return litres - taken;
  };
  if (!(closeL > 0)) return { drunkL: 0, madeL: 0, wasteL: 0, runMinutes: 0, starts: 0, tdsMgL: 0 };
  days.forEach((draws, day) => {
    if (day === leadDays) counted = { drunkL: 0, madeL: 0, wasteL: 0, runMinutes: 0, starts: 0, mg: 0 };
    for (const draw of draws) {
      advance(max(clock, day * 1440 + draw.minute));
      const left = take(draw.litres);
      if (left < 1e-9) continue;
      // who waits takes what comes within the hour
      const { length } = sums.minutes;
      const wanted = min(length - 1, (emptyL + left) / sums.cellL);
      advance(clock + min(PATIENCE_MIN, max(0, at(sums.minutes, wanted) - at(sums.minutes, contentL / sums.cellL))));
      take(left);
    }
    advance((day + 1) * 1440);
  });
  const { mg: drunkMg, ...litres } = counted;
  return { ...litres, tdsMgL: litres.drunkL > 0 ? drunkMg / litres.drunkL : 0 };
} // oxfmt-ignore
