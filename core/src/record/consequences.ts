import { formatReading } from '../quantity/format.ts';
import { tubesOf } from '../system/system.ts';
import type { SystemView } from './view.ts';

/** One figure of a system before and after something of it is changed. */
export interface Consequence {
  readonly what: string;
  readonly from: string;
  readonly to: string;
}

/** Share of itself by which a figure must move to be told. */
const SHOWN_FROM = 0.01;

const sum = (all: readonly number[]): number => all.reduce((a, b) => a + b, 0);

/** Figures that a change of parts or tubes may move, as people say them; null where a system has none of it. */
const FIGURES: readonly (readonly [string, string, (v: SystemView) => number | null])[] = [
  ['at the tap, coldest water', 'L/min', (v) => v.worst.tapFlowLMin],
  ['usable of a full tank', 'L', (v) => (v.worst.direct ? null : v.worst.usableL)],
  ['made a day, coldest water', 'L', (v) => v.worst.litresADay],
  ['a fill today', 'min', (v) => (v.today.direct ? null : v.today.fill.minutes)],
  ['in the tank', 'mg/L', (v) => (v.worst.direct ? null : v.worst.fill.tankTdsMgL)],
  ['to the drain for a litre', 'L', (v) => v.worst.wasteRatio],
  ['joints', '', (v) => v.joints.length],
  ['holes', '', (v) => v.holes.length],
  ['tube', 'm', (v) => sum(tubesOf(v.system).map((t) => t.lengthM))],
  ['parts that have a price', '', (v) => sum(v.picks.flatMap((p) => p.price ?? []))],
];

/** What a change does: the figures that read otherwise afterwards. @param currency the firm's money */
export function consequencesOf(before: SystemView, after: SystemView, currency: string): Consequence[] {
  return FIGURES.flatMap(([what, unit, of]): Consequence[] => {
    const [a, b] = [of(before), of(after)];
    if (a === null || b === null || !Number.isFinite(a) || !Number.isFinite(b)) return [];
    // a hundredth is less than parts of one kind differ by
    const counts = unit === '' && !what.startsWith('parts');
    if (!counts && Math.abs(b - a) < SHOWN_FROM * Math.abs(a)) return [];
    const [from, to] = [formatReading(a), formatReading(b)];
    const said = what.startsWith('parts') ? currency : unit;
    return from === to ? [] : [{ what, from, to: said === '' ? to : `${to} ${said}` }];
  });
}

/** What is not legal or cannot be where it was before. */
export const newFaults = (before: SystemView, after: SystemView): string[] =>
  after.faults.filter((f) => !before.faults.includes(f));
