import { drawsOfDay, type Draw, type Habits } from '../demand/draws.ts';
import { seeded, type Random } from '../demand/random.ts';
import { pressureAtWaterBar, waterAtPressureL, type AirTank, type VentedTank } from '../hydraulics/tank.ts';
import type { FeedWater, Train } from '../hydraulics/train.ts';
import type { ElementOutput } from '../membrane/element.ts';
import { saltLDayAt } from '../membrane/permeability.ts';
import { tdsAfterStand, type Standing } from '../membrane/stand.ts';
import { makingAt, type OperatingMap } from './fill.ts';

const { floor, max, min } = Math;

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

/** What draws are served from: a tank that fills by itself, or a membrane at the open tap. It counts what it makes. */
export interface Source {
  /** what stands in it, L; 0 without a tank */
  contentL: number;
  madeL: number;
  wasteL: number;
  starts: number;
  runMinutes: number;
  /** something goes on without anybody drawing: each minute is to be lived through */
  readonly busy: boolean;
  /** a minute passes, on the clock of what is lived through */
  minute: (clockMin: number) => void;
  /** Gives what it can of a draw at a clock's minute. @returns litres, what they carry in mg, and how long it took */
  give: (
    litres: number,
    clockMin: number,
  ) => { readonly litres: number; readonly mg: number; readonly minutes: number };
}

/** After this long a person goes away without the rest, min. */
export const PATIENCE_MIN = 60;

interface Open {
  readonly draw: Draw;
  readonly since: number;
  leftL: number;
  atOnceL: number;
  mg: number;
  doneAt: number;
}

/** Watches a day as it is lived. */
export interface Watch {
  readonly served?: (draw: ServedDraw) => void;
  readonly content?: (minute: number, litres: number) => void;
}

/**
 * Lives through days minute by minute: draws are served from what there is, what is not there waits, and who waits an hour
 * goes away without the rest. A day with a tank, a year, and a system at its open tap are all lived by this.
 * @param drawsOn the draws of a day, in order
 */
export function simulateDays(
  source: Source,
  days: number,
  drawsOn: (day: number) => readonly Draw[],
  watch: Watch = {},
): Lived {
  const before = { madeL: source.madeL, wasteL: source.wasteL, starts: source.starts, run: source.runMinutes };
  let drunkL = 0;
  let drunkMg = 0;
  let waits = 0;
  let count = 0;
  let longestWaitMin = 0;
  let shortL = 0;
  let lowestL = source.contentL;
  const open: Open[] = [];
  const serve = (o: Open, clock: number): void => {
    const given = source.give(o.leftL, clock);
    if (given.litres <= 0) return;
    if (o.leftL === o.draw.litres && clock === o.since) o.atOnceL = given.litres;
    o.leftL -= given.litres;
    o.mg += given.mg;
    o.doneAt = clock + given.minutes;
    drunkL += given.litres;
    drunkMg += given.mg;
    if (source.contentL < lowestL) lowestL = source.contentL;
  };
  const close = (o: Open): void => {
    const short = o.leftL < 1e-9 ? 0 : o.leftL;
    const waitMin = short > 0 ? PATIENCE_MIN : o.doneAt - o.since;
    if (waitMin > longestWaitMin) longestWaitMin = waitMin;
    shortL += short;
    if (!watch.served) return;
    const drunk = o.draw.litres - short;
    watch.served({ ...o.draw, atOnceL: o.atOnceL, waitMin, shortL: short, tdsMgL: drunk > 0 ? o.mg / drunk : 0 });
  };
  for (let day = 0; day < days; day++) {
    const draws = drawsOn(day);
    let next = 0;
    for (let minute = 0; minute < 1440; minute++) {
      const clock = day * 1440 + minute;
      if (source.busy) source.minute(clock);
      const first = next;
      for (let draw = draws[next]; draw?.minute === minute; draw = draws[++next]) {
        open.push({ draw, since: clock, leftL: draw.litres, atOnceL: 0, mg: 0, doneAt: clock });
        count++;
      }
      if (open.length > 0) {
        if (next > first) watch.content?.(minute, source.contentL);
        for (const o of open) serve(o, clock);
        for (const o of open.slice(next > first ? open.length - (next - first) : open.length))
          if (o.leftL > 1e-9 || o.doneAt - o.since > 1) waits++;
        if (next > first) watch.content?.(minute, source.contentL);
        for (let i = open.length - 1; i >= 0; i--) {
          const o = open[i];
          if (o && (o.leftL < 1e-9 || clock - o.since >= PATIENCE_MIN)) {
            open.splice(i, 1);
            close(o);
          }
        }
      }
      if (watch.content && minute % 5 === 4) watch.content(minute + 1, source.contentL);
      // nothing goes on and nobody waits: on to the next draw
      if (!source.busy && open.length === 0 && !watch.content) minute = (draws[next]?.minute ?? 1440) - 1;
    }
  }
  for (const o of open) close(o);
  return {
    days,
    drunkL,
    madeL: source.madeL - before.madeL,
    wasteL: source.wasteL - before.wasteL,
    waits,
    draws: count,
    longestWaitMin,
    shortL,
    starts: source.starts - before.starts,
    runMinutes: source.runMinutes - before.run,
    tdsMgL: drunkL > 0 ? drunkMg / drunkL : 0,
    lowestL,
  };
}

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
  /** what stands beside the membrane while the tank is full; null leaves the creep at each start out */
  readonly standing: Standing | null;
}

const CELLS = 64;

/**
 * Tabulates a month from the train's operating map.
 * @param reopenShare reopening pressure as a share of the closing one, 0 to 1
 * @param standing see `standingBeside`
 */
export function monthTable(
  map: OperatingMap,
  tank: AirTank,
  days: number,
  reopenShare: number,
  airBar: number,
  standing: Standing | null,
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
    standing,
  };
}

/** The same for a vented tank, to which nothing pushes back: it makes the same at any content. */
export function ventedTable(out: ElementOutput, tank: VentedTank, days: number, standing: Standing | null): MonthTable {
  const even = (lDay: number): Float64Array => new Float64Array(CELLS + 1).fill(lDay / 1440);
  return {
    days,
    closeL: tank.volumeL,
    reopenL: tank.volumeL - tank.floatDropL,
    product: even(out.permeateLDay),
    concentrate: even(out.concentrateLDay),
    salt: even(out.permeateLDay * out.permeateTdsMgL),
    standing,
  };
}

/**
 * What stands beside the membrane once the tank is full: the last drop made, and on the feed side, shut before its drain
 * has run out, what stood along the channel between feed and concentrate.
 * @param holdUp of all elements together, L
 */
export function standingBeside(
  map: OperatingMap,
  train: Pick<Train, 'permeability'>,
  water: FeedWater,
  holdUp: Pick<Standing, 'productL' | 'feedL'>,
): Standing {
  const last = map.points.at(-1)?.out;
  return {
    ...holdUp,
    productTdsMgL: last?.permeateTdsMgL ?? 0,
    feedTdsMgL: last ? (water.tdsMgL + last.concentrateTdsMgL) / 2 : water.tdsMgL,
    saltLDay: saltLDayAt(train.permeability, water.temperatureC),
  };
}

/** A table between its cells. */
function read(t: Float64Array, x: number): number {
  const i = floor(x);
  const a = t[i] ?? 0;
  return a + ((t[i + 1] ?? 0) - a) * (x - i);
}

/** A tank that fills whenever it has fallen far enough, and stops when it is full. */
export class TankSource implements Source {
  contentL: number;
  madeL = 0;
  wasteL = 0;
  starts = 0;
  runMinutes = 0;
  busy = false;
  private saltMg: number;
  /** when it last stopped, on the clock of what is lived through, min */
  private stopped = 0;
  private table: MonthTable;
  private readonly emptyL: number;

  /**
   * Full at the beginning.
   * @param emptyL content at which the tap no longer runs as wanted, L; @param tdsMgL what it carries; of half a fill if left out
   */
  constructor(table: MonthTable, emptyL: number, tdsMgL?: number) {
    this.table = table;
    this.emptyL = emptyL;
    this.contentL = table.closeL;
    const half = CELLS / 2;
    const made = table.product[half] ?? 0;
    const carried = tdsMgL ?? (made > 0 ? (table.salt[half] ?? 0) / made : 0);
    this.saltMg = this.contentL * carried;
  }

  /** what stands in it carries, mg/L */
  get tdsMgL(): number {
    return this.contentL > 0 ? this.saltMg / this.contentL : 0;
  }

  /** Another month begins, its clock at nought again. */
  turn(table: MonthTable, pastMin: number): void {
    this.table = table;
    this.stopped -= pastMin;
  }

  minute(clockMin: number): void {
    const { closeL, product, concentrate, salt } = this.table;
    const scale = closeL > 0 ? CELLS / closeL : 0;
    // at the middle of the minute
    let x = min(CELLS - 1e-9, max(0, this.contentL * scale));
    x = min(CELLS - 1e-9, x + 0.5 * scale * read(product, x));
    const made = read(product, x);
    // the last minute is only as long as it takes to be full
    const share = made > 0 ? min(1, max(0, (closeL - this.contentL) / made)) : 1;
    this.contentL += share * made;
    this.madeL += share * made;
    this.wasteL += share * read(concentrate, x);
    this.saltMg += share * read(salt, x);
    this.runMinutes += share;
    if (share < 1 || this.contentL >= closeL) {
      this.busy = false;
      this.stopped = clockMin + share;
    }
  }

  give(litres: number, clockMin: number): { litres: number; mg: number; minutes: number } {
    const take = min(litres, max(0, this.contentL - this.emptyL));
    const mg = take > 0 ? (this.saltMg * take) / this.contentL : 0;
    this.saltMg -= mg;
    this.contentL -= take;
    if (!this.busy && this.contentL <= this.table.reopenL) {
      this.busy = true;
      this.starts++;
      this.saltMg += this.creptMg(clockMin);
    }
    return { litres: take, mg, minutes: 0 };
  }

  /** Salt that a start pushes into the tank first, beyond what as much fresh product carries: it crept through while it stood. */
  private creptMg(clockMin: number): number {
    const { standing, closeL, product, salt } = this.table;
    if (!standing) return 0;
    const x = closeL > 0 ? min(CELLS - 1e-9, (this.contentL * CELLS) / closeL) : 0;
    const fresh = read(salt, x) / max(1e-9, read(product, x));
    const stood = tdsAfterStand(standing, max(0, clockMin - this.stopped) / 60);
    return standing.productL * max(0, stood - fresh);
  }
}

/**
 * Lives through months with seeded draws from a tank.
 * @param emptyL content at which the tap no longer runs as wanted, L
 * @returns one entry a month; the same seed gives the same
 */
export function simulateMonths(months: readonly MonthTable[], habits: Habits, emptyL: number, seed: number): Lived[] {
  const random: Random = seeded(seed);
  const [first] = months;
  if (!first) return [];
  const source = new TankSource(first, emptyL);
  let past = 0;
  return months.map((m) => {
    source.turn(m, past);
    past = 1440 * m.days;
    return simulateDays(source, m.days, () => drawsOfDay(habits, random));
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
