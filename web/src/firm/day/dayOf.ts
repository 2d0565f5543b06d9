import type { RoundsEntry } from '@katharos/contract';
import {
  districtOf,
  PLAIN_VISIT,
  WORKING_DAY,
  type DatedVisit,
  type DayFitter,
  type DayPlan,
  type DayTable,
  type DayVisit,
  type FactOf,
} from '@katharos/core';
import dayjs from 'dayjs';

/** A house somebody goes to on a day: a visit that is dated, or a clock that runs out there. */
export interface DayHouse {
  readonly jobId: string;
  readonly name: string;
  readonly place: string;
  readonly reason: string;
  readonly lens: string;
  /** null where only a clock asks for it */
  readonly visit: DatedVisit | null;
  readonly planned: DayVisit;
}

/** A moment by the clock on the wall, minutes from the midnight a day begins with, whatever is done to the clocks that day. @param on YYYY-MM-DD */
export function minuteOf(iso: string, on: string): number {
  const at = dayjs(iso);
  return 1440 * Math.round(at.startOf('day').diff(dayjs(on), 'day', true)) + 60 * at.hour() + at.minute();
}
/** A minute of a day as people say it. */
export const clock = (minute: number): string =>
  `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(Math.round(minute) % 60).padStart(2, '0')}`;

/** The houses of a day, as they are planned: what is over is left out. @param on YYYY-MM-DD */
export function housesOf(entries: readonly RoundsEntry[], on: string, table: DayTable): DayHouse[] {
  const isThen = (iso: string): boolean => dayjs(iso).format('YYYY-MM-DD') === on;
  return entries.flatMap((e): DayHouse[] => {
    const { household: h, summary: s, jobId } = e;
    const due = s.timers.map((t) => t.dueAt).filter(isThen);
    const readyMin = due.length > 0 ? Math.min(...due.map((d) => minuteOf(d, on))) : undefined;
    const visits = s.visits.filter((v) => isThen(v.on) && v.work.length > 0);
    const house = { jobId, name: h.name, place: h.place, lens: s.lens };
    const district = districtOf(h.place, table);
    const ready = readyMin === undefined ? {} : { readyMin };
    if (visits.length === 0)
      return readyMin === undefined
        ? []
        : [{ ...house, reason: s.next, visit: null, planned: { id: jobId, district, tasks: PLAIN_VISIT, fromMin: 0, untilMin: 1440, ...ready } }];
    return visits.map((v): DayHouse => {
      const { between = WORKING_DAY, agreed } = v.fact;
      return {
        ...house,
        reason: v.reason,
        visit: v,
        planned: {
          id: v.fact.id,
          district,
          tasks: v.work,
          ...between,
          ...(agreed === true ? { fixedMin: Math.max(0, minuteOf(v.on, on)) } : {}),
          ...ready,
        },
      };
    });
  });
} // oxfmt-ignore

/** Who drives out: as the firm wrote it down; else whoever plans, from nowhere in particular. */
export const fittersOf = (table: DayTable, me: string | null): DayFitter[] =>
  table.fitters.length > 0
    ? table.fitters.map(({ person, ...f }) => ({ id: person, ...f }))
    : [{ id: me ?? 'somebody', district: '', ...WORKING_DAY }];

/** A plan as an order that a hand can change: each one's houses, one named again for its next stay. */
export const orderOf = (plan: DayPlan): Record<string, string[]> =>
  Object.fromEntries(Object.entries(plan.stops).map(([f, stops]) => [f, stops.map((s) => s.visit)]));

/**
 * An order with one stay moved: among the same one's houses that stay alone, to another all of that house.
 * @param from which of whose stays @param to before which of whose
 */
export function moved(
  order: Readonly<Record<string, readonly string[]>>,
  from: { readonly fitter: string; readonly index: number },
  to: { readonly fitter: string; readonly index: number },
): Record<string, string[]> {
  const next = Object.fromEntries(Object.entries(order).map(([f, all]) => [f, [...all]]));
  const mine = next[from.fitter] ?? [];
  const id = mine[from.index];
  const there = next[to.fitter];
  if (id === undefined || !there) return next;
  if (from.fitter === to.fitter) {
    mine.splice(from.index, 1);
    mine.splice(Math.max(0, Math.min(mine.length, to.index > from.index ? to.index - 1 : to.index)), 0, id);
    return next;
  }
  const stays = mine.filter((x) => x === id);
  next[from.fitter] = mine.filter((x) => x !== id);
  there.splice(Math.max(0, Math.min(there.length, to.index)), 0, ...stays);
  return next;
}

/** Visits as a plan has them, where they are dated otherwise now: each corrects the one it was. @param on YYYY-MM-DD */
export function keptPlan(
  houses: readonly DayHouse[],
  plan: DayPlan,
  on: string,
): { readonly jobId: string; readonly fact: Omit<FactOf<'visit'>, 'v' | 'id' | 'jobId' | 'at' | 'by'> }[] {
  return Object.entries(plan.stops).flatMap(([fitter, stops]) =>
    stops.flatMap((s) => {
      const house = houses.find((h) => h.planned.id === s.visit);
      if (s.task !== 0 || !house?.visit) return [];
      const { kind, design, reason, changed, toChange, between, agreed, note, id } = house.visit.fact;
      const at = dayjs(`${on}T${clock(Math.min(1439, s.startMin))}`).toISOString();
      if (house.visit.on === at && house.visit.fact.fitter === fitter) return [];
      // however late it is planned, it is one to come
      const fact = { kind, reason, changed, toChange: toChange ?? [], on: at, fitter, corrects: id, ...(design === undefined ? {} : { design }), ...(between ? { between } : {}), ...(agreed === undefined ? {} : { agreed }), ...(note === undefined ? {} : { note }) };
      return [{ jobId: house.jobId, fact }];
    }),
  );
} // oxfmt-ignore

const PROBLEM = {
  'nobody-home': (min: string) => `is there ${min} after nobody is at home`,
  'clock-missed': (min: string) => `comes back ${min} later than the clock allows`,
  'not-as-agreed': (min: string) => `comes ${min} later than was agreed`,
  overtime: (min: string) => `is the last of a day that is ${min} too long`,
  'left-out': () => 'is in nobody’s day',
} as const;

/** What a plan does not hold, in words. */
export const problemWords = ({ kind, byMin }: DayPlan['problems'][number], name: string): string =>
  `${name} ${PROBLEM[kind](`${String(Math.ceil(byMin))} min`)}.`;

/** The plan that was kept in the visits of a day: what is planned anew changes it as little as can be; null where none was. @param on YYYY-MM-DD */
export function planBefore(houses: readonly DayHouse[], on: string): DayPlan | null {
  const stops: Record<string, DayPlan['stops'][string][number][]> = {};
  for (const { planned, visit } of houses) {
    const fitter = visit?.fact.fitter;
    if (!visit || fitter === undefined) continue;
    const startMin = minuteOf(visit.on, on);
    (stops[fitter] ??= []).push({ visit: planned.id, task: 0, travelMin: 0, arriveMin: startMin, startMin, endMin: startMin, dueMin: null });
  }
  return Object.keys(stops).length > 0 ? { stops, problems: [], travelMin: 0 } : null;
} // oxfmt-ignore
