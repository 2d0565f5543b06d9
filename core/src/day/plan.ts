/** Work at a house without a pause, and what must run before the next of it, min. */
export interface Task {
  readonly handsMin: number;
  /** a clock that runs after it; the next task begins once it is over; 0 after the last */
  readonly waitMin: number;
}

/** A visit to be laid into a day; times in minutes from its midnight, 0 to 1440. */
export interface DayVisit {
  readonly id: string;
  readonly district: string;
  /** at least one */
  readonly tasks: readonly Task[];
  /** somebody is at home between; work is done within */
  readonly fromMin: number;
  readonly untilMin: number;
  /** only this one goes; anybody where it is left out */
  readonly fitter?: string | undefined;
  /** the moment agreed with the household */
  readonly fixedMin?: number | undefined;
  /** a clock that runs there already: the first task begins once it is over */
  readonly readyMin?: number | undefined;
}

/** Somebody who drives out. */
export interface DayFitter {
  readonly id: string;
  /** where the day begins */
  readonly district: string;
  readonly fromMin: number;
  readonly untilMin: number;
}

/** Minutes of driving between two districts. */
export type Travel = (from: string, to: string) => number;

/** One stay at a house. */
export interface Stop {
  readonly visit: string;
  /** which of its tasks, from 0 */
  readonly task: number;
  readonly travelMin: number;
  readonly arriveMin: number;
  readonly startMin: number;
  readonly endMin: number;
  /** when the clock before it was over; null for the first where none runs */
  readonly dueMin: number | null;
}

/** What a plan does not hold. */
export interface DayProblem {
  readonly visit: string;
  readonly kind: 'nobody-home' | 'clock-missed' | 'not-as-agreed' | 'overtime' | 'left-out';
  /** by so much, min */
  readonly byMin: number;
}

export interface DayPlan {
  /** in their order, by fitter */
  readonly stops: Readonly<Record<string, readonly Stop[]>>;
  readonly problems: readonly DayProblem[];
  readonly travelMin: number;
}

/** Back within so long of a clock, it is met, min. */
export const CLOCK_GRACE_MIN = 15;
/** A household that was told a time is met within so long, min. */
const AGREED_GRACE_MIN = 10;
/** What a minute of each costs beside a minute of driving. */
const WEIGHT = { broken: 40, finish: 0.5, idle: 0.05, moved: 25, shifted: 0.15, leftOut: 4000 } as const;
/** Improving stops after so many rounds without end. */
const ROUNDS = 12;

type Seat = readonly [visit: number, task: number];
/** Each fitter's seats in order. */
type Order = readonly (readonly Seat[])[];

interface Problemed {
  readonly stops: Stop[];
  readonly problems: DayProblem[];
  readonly cost: number;
}

class Planner {
  private readonly visits: readonly DayVisit[];
  private readonly fitters: readonly DayFitter[];
  private readonly travel: Travel;
  private readonly before: ReadonlyMap<string, { readonly fitter: string; readonly startMin: number }>;
  constructor(visits: readonly DayVisit[], fitters: readonly DayFitter[], travel: Travel, before: DayPlan | null) {
    this.visits = visits;
    this.fitters = fitters;
    this.travel = travel;
    this.before = new Map(
      Object.entries(before?.stops ?? {}).flatMap(([fitter, stops]) =>
        stops.filter((s) => s.task === 0).map((s) => [s.visit, { fitter, startMin: s.startMin }] as const),
      ),
    );
  }

  /** Lays one fitter's seats on the clock. */
  lay(f: number, seats: readonly Seat[]): Problemed {
    const who = this.fitters[f];
    if (!who) return { stops: [], problems: [], cost: 0 };
    const stops: Stop[] = [];
    const problems: DayProblem[] = [];
    const ended = new Map<number, number>();
    let [at, here, cost] = [who.fromMin, who.district, 0];
    const broken = (visit: string, kind: DayProblem['kind'], byMin: number): void => {
      if (byMin <= 0) return;
      problems.push({ visit, kind, byMin });
      cost += WEIGHT.broken * byMin;
    };
    for (const [v, task] of seats) {
      const visit = this.visits[v];
      const t = visit?.tasks[task];
      if (!visit || !t) continue;
      const travelMin = here === visit.district && stops.at(-1)?.visit === visit.id ? 0 : this.travel(here, visit.district);
      const arriveMin = at + travelMin;
      const dueMin = task === 0 ? (visit.readyMin ?? null) : (ended.get(v) ?? 0) + (visit.tasks[task - 1]?.waitMin ?? 0);
      const startMin = Math.max(arriveMin, visit.fromMin, dueMin ?? 0, task === 0 ? (visit.fixedMin ?? 0) : 0);
      const endMin = startMin + t.handsMin;
      broken(visit.id, 'nobody-home', endMin - visit.untilMin);
      if (dueMin !== null) broken(visit.id, 'clock-missed', startMin - dueMin - CLOCK_GRACE_MIN);
      if (task === 0 && visit.fixedMin !== undefined) broken(visit.id, 'not-as-agreed', startMin - visit.fixedMin - AGREED_GRACE_MIN);
      cost += travelMin + WEIGHT.idle * (startMin - arriveMin);
      const was = task === 0 ? this.before.get(visit.id) : undefined;
      if (was) cost += (was.fitter === who.id ? 0 : WEIGHT.moved) + WEIGHT.shifted * Math.abs(startMin - was.startMin);
      stops.push({ visit: visit.id, task, travelMin, arriveMin, startMin, endMin, dueMin });
      ended.set(v, endMin);
      [at, here] = [endMin, visit.district];
    }
    const last = stops.at(-1);
    if (last) {
      const home = at + this.travel(here, who.district);
      broken(last.visit, 'overtime', home - who.untilMin);
      cost += this.travel(here, who.district) + WEIGHT.finish * (home - who.fromMin);
    }
    return { stops, problems, cost };
  }

  /** The cheapest way to lay a visit's tasks among a fitter's seats; null where that one does not go there. */
  best(f: number, seats: readonly Seat[], v: number): { readonly seats: readonly Seat[]; readonly more: number } | null {
    const visit = this.visits[v];
    const who = this.fitters[f];
    if (!visit || !who || (visit.fitter !== undefined && visit.fitter !== who.id)) return null;
    const now = this.lay(f, seats).cost;
    let found: { seats: readonly Seat[]; more: number } | null = null;
    const place = (laid: readonly Seat[], task: number, from: number): void => {
      if (task === visit.tasks.length) {
        const more = this.lay(f, laid).cost - now;
        if (!found || more < found.more - 1e-9) found = { seats: laid, more };
        return;
      }
      for (let i = from; i <= laid.length; i++) place([...laid.slice(0, i), [v, task], ...laid.slice(i)], task + 1, i + 1);
    };
    place(seats, 0, 0);
    return found;
  }

  /** Puts a visit where it costs least, over every fitter; the order itself where nobody may go. */
  put(order: Order, v: number): Order {
    const ways = this.fitters.flatMap((_, f) => {
      const way = this.best(f, order[f] ?? [], v);
      return way ? [{ f, ...way }] : [];
    });
    const way = ways.reduce<(typeof ways)[number] | null>((a, b) => (a && a.more <= b.more + 1e-9 ? a : b), null);
    return way ? order.map((seats, f) => (f === way.f ? way.seats : seats)) : order;
  }

  cost(order: Order): number {
    const laid = new Set(order.flat().map(([v]) => v));
    return order.reduce((sum, seats, f) => sum + this.lay(f, seats).cost, 0) + WEIGHT.leftOut * (this.visits.length - laid.size);
  }

  /** What was agreed or runs first, then what has most parts and least time. */
  private inTurn(): number[] {
    const tight = ({ fixedMin, readyMin, fromMin, untilMin, tasks }: DayVisit): number =>
      (fixedMin === undefined ? 0 : -10000) + (readyMin === undefined ? 0 : -10000) - 200 * tasks.length + (untilMin - fromMin);
    return this.visits.map((_, i) => i).sort((a, b) => {
      const [x, y] = [this.visits[a], this.visits[b]];
      return x && y ? tight(x) - tight(y) || x.id.localeCompare(y.id) : 0;
    });
  }

  plan(): DayPlan {
    const turn = this.inTurn();
    let order: Order = this.fitters.map(() => []);
    for (const v of turn) order = this.put(order, v);
    let cost = this.cost(order);
    // each is taken out and put back where it costs least now, until nothing is won by it
    for (let round = 0, won = true; won && round < ROUNDS; round++) {
      won = false;
      for (const v of turn) {
        const tried = this.put(order.map((seats) => seats.filter(([x]) => x !== v)), v);
        const now = this.cost(tried);
        if (now < cost - 1e-6) [order, cost, won] = [tried, now, true];
      }
    }
    return this.told(order);
  }

  told(order: Order): DayPlan {
    const laid = order.map((seats, f) => this.lay(f, seats));
    const laidTasks = order.flat();
    const isWhole = (v: number, of: DayVisit): boolean => laidTasks.filter(([x]) => x === v).length === of.tasks.length;
    return {
      stops: Object.fromEntries(this.fitters.map((w, f) => [w.id, laid[f]?.stops ?? []])),
      problems: [
        ...laid.flatMap((l) => l.problems),
        ...this.visits.flatMap((v, i) => (isWhole(i, v) ? [] : [{ visit: v.id, kind: 'left-out' as const, byMin: 0 }])),
      ],
      travelMin: laid.flatMap((l) => l.stops).reduce((sum, s) => sum + s.travelMin, 0),
    };
  }

  /** A plan by hand: each fitter's stays in the order given; the first at a house is its first task. */
  byHand(hand: Readonly<Record<string, readonly string[]>>): DayPlan {
    const at = new Map(this.visits.map((v, i) => [v.id, i]));
    const stays = new Map<number, number>();
    return this.told(
      this.fitters.map((w) => (hand[w.id] ?? []).flatMap((id): Seat[] => {
        const v = at.get(id);
        const task = v === undefined ? 0 : (stays.get(v) ?? 0);
        if (v === undefined || task >= (this.visits[v]?.tasks.length ?? 0)) return [];
        stays.set(v, task + 1);
        return [[v, task]];
      })),
    );
  }
} // oxfmt-ignore

/**
 * Lays the visits of a day on its fitters: in the order that drives least, other visits in the hours a tank fills, back when
 * each clock is over, while somebody is at home. The same visits give the same plan. What cannot be held is laid where it
 * breaks least, and told.
 * @param travel minutes between two districts, 0 or more
 * @param before a plan that is changed as little as can be
 * @throws RangeError for a visit without a task, or times that are none
 */
export function planDay(
  visits: readonly DayVisit[],
  fitters: readonly DayFitter[],
  travel: Travel,
  before: DayPlan | null = null,
): DayPlan {
  checked(visits);
  return new Planner(visits, fitters, travel, before).plan();
}

/** A day as somebody ordered it by hand, each fitter's houses in order, one named again for its next stay: the same clock, and what it breaks. See `planDay`. */
export function layByHand(
  visits: readonly DayVisit[],
  fitters: readonly DayFitter[],
  travel: Travel,
  hand: Readonly<Record<string, readonly string[]>>,
): DayPlan {
  checked(visits);
  return new Planner(visits, fitters, travel, null).byHand(hand);
}

function checked(visits: readonly DayVisit[]): void {
  for (const v of visits)
    if (v.tasks.length === 0 || v.tasks.some((t) => !(t.handsMin >= 0) || !(t.waitMin >= 0)) || !(v.fromMin <= v.untilMin))
      throw new RangeError(`visit "${v.id}" has no work, or no time`);
} // oxfmt-ignore
