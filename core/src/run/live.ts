import { drawsOfDay, type Habits } from '../demand/draws.ts';
import { seeded } from '../demand/random.ts';
import { makingAt, type OperatingMap } from './fill.ts';
import { pressureAtWaterBar, waterAtPressureL, type AirTank } from '../hydraulics/tank.ts';

const { floor, max, min } = Math;

/** A month ready to be lived through minute by minute: what is made against each content of the tank. */
export interface MonthTable {
  readonly days: number;
  /** content at shut-off and at reopening, L */
  readonly closeL: number;
  readonly reopenL: number;
  /** L/min of product and of concentrate, and mg/min of salt into the tank, at equal steps of content from 0 to closeL */
  readonly product: Float64Array;
  readonly concentrate: Float64Array;
  readonly salt: Float64Array;
}

const CELLS = 64;

/**
 * Tabulates a month from the train's operating map.
 * @param reopenShare reopening pressure as a share of the closing one, 0 to 1
 */
export function monthTable(
  map: OperatingMap,
  tank: AirTank,
  days: number,
  reopenShare: number,
  airBar: number,
): MonthTable {
  const closeL = waterAtPressureL(tank, map.closeBar, airBar);
  const product = new Float64Array(CELLS + 1);
  const concentrate = new Float64Array(CELLS + 1);
  const salt = new Float64Array(CELLS + 1);
  for (let i = 0; i <= CELLS; i++) {
    const m = makingAt(map, pressureAtWaterBar(tank, (closeL * i) / CELLS, airBar));
    product[i] = m.permeate / 1440;
    concentrate[i] = m.concentrate / 1440;
    salt[i] = m.salt / 1440;
  }
  return {
    days,
    closeL,
    reopenL: waterAtPressureL(tank, map.closeBar * reopenShare, airBar),
    product,
    concentrate,
    salt,
  };
}

/** What came of a span of days. */
export interface Lived {
  readonly days: number;
  readonly drunkL: number;
  readonly madeL: number;
  readonly wasteL: number;
  /** draws that had to wait for water */
  readonly waits: number;
  readonly draws: number;
  readonly longestWaitMin: number;
  /** water asked for and not there within an hour, L */
  readonly shortL: number;
  readonly starts: number;
  /** minutes the system made water (and a pump ran) */
  readonly runMinutes: number;
  /** of what was drunk, mg/L, weighted by litres */
  readonly tdsMgL: number;
  readonly lowestL: number;
}

/** After this long a person goes away without the rest. */
const PATIENCE_MIN = 60;

/**
 * Lives through months minute by minute with seeded draws: the valve closes and reopens with its hysteresis, draws are
 * served from what stands above the emptiest usable content and from what is being made, and wait where that is too little.
 * @param emptyL content at which the tap no longer runs as wanted, L
 * @returns one entry a month; the same seed gives the same
 */
export function live(months: readonly MonthTable[], habits: Habits, emptyL: number, seed: number): Lived[] {
  const random = seeded(seed);
  const first = months[0];
  let content = first ? first.closeL : 0;
  let stored = 0; // mg of salt in the tank
  let filling = false;
  let owed = 0;
  let owedSince = 0;
  let clock = 0;
  if (first && content > 0) {
    const at = first.product.findIndex((p) => p > 0);
    const p = at >= 0 ? (first.product[at] ?? 0) : 0;
    stored = p > 0 ? (content * (first.salt[at] ?? 0)) / p : 0;
  }
  return months.map((m) => {
    let drunkL = 0;
    let madeL = 0;
    let wasteL = 0;
    let waits = 0;
    let count = 0;
    let longestWaitMin = 0;
    let shortL = 0;
    let starts = 0;
    let runMinutes = 0;
    let drunkMg = 0;
    let lowestL = content;
    const cells = m.closeL > 0 ? CELLS / m.closeL : 0;
    for (let day = 0; day < m.days; day++) {
      const draws = drawsOfDay(habits, random);
      let next = 0;
      let nextMinute = draws[0]?.minute ?? -1;
      for (let minute = 0; minute < 1440; minute++) {
        clock++;
        if (filling) {
          const x = min(CELLS - 1, max(0, content * cells));
          const i = floor(x);
          const f = min(1, x - i);
          const a = m.product[i] ?? 0;
          const made = a + ((m.product[i + 1] ?? 0) - a) * f;
          const b = m.concentrate[i] ?? 0;
          const c = m.salt[i] ?? 0;
          content += made;
          madeL += made;
          wasteL += b + ((m.concentrate[i + 1] ?? 0) - b) * f;
          stored += c + ((m.salt[i + 1] ?? 0) - c) * f;
          runMinutes++;
          if (content >= m.closeL) filling = false;
        }
        if (owed === 0 && minute !== nextMinute) continue;
        while (minute === nextMinute) {
          const draw = draws[next];
          if (!draw) break;
          if (owed === 0) owedSince = clock;
          owed += draw.litres;
          count++;
          next++;
          nextMinute = draws[next]?.minute ?? -1;
          if (owed > max(0, content - emptyL)) waits++;
        }
        const take = min(owed, max(0, content - emptyL));
        if (take > 0) {
          const mg = (stored * take) / content;
          stored -= mg;
          content -= take;
          drunkL += take;
          drunkMg += mg;
          owed -= take;
          if (content < lowestL) lowestL = content;
          if (owed < 1e-9) owed = 0;
        }
        const waited = clock - owedSince;
        if (waited > longestWaitMin) longestWaitMin = waited;
        if (owed > 0 && waited >= PATIENCE_MIN) {
          shortL += owed;
          owed = 0;
        }
        if (!filling && content <= m.reopenL) {
          filling = true;
          starts++;
        }
      }
    }
    return {
      days: m.days,
      drunkL,
      madeL,
      wasteL,
      waits,
      draws: count,
      longestWaitMin,
      shortL,
      starts,
      runMinutes,
      tdsMgL: drunkL > 0 ? drunkMg / drunkL : 0,
      lowestL,
    };
  });
}

/** Several spans as one. */
export function together(parts: readonly Lived[]): Lived {
  const sum = (f: (l: Lived) => number): number => parts.reduce((s, l) => s + f(l), 0);
  const drunkL = sum((l) => l.drunkL);
  return {
    days: sum((l) => l.days),
    drunkL,
    madeL: sum((l) => l.madeL),
    wasteL: sum((l) => l.wasteL),
    waits: sum((l) => l.waits),
    draws: sum((l) => l.draws),
    longestWaitMin: max(0, ...parts.map((l) => l.longestWaitMin)),
    shortL: sum((l) => l.shortL),
    starts: sum((l) => l.starts),
    runMinutes: sum((l) => l.runMinutes),
    tdsMgL: drunkL > 0 ? sum((l) => l.drunkL * l.tdsMgL) / drunkL : 0,
    lowestL: min(...parts.map((l) => l.lowestL)),
  };
}
