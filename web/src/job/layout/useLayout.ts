import {
  carriedIn,
  clashesOf,
  laid,
  roomOf,
  runsIn,
  turnedBody,
  sizeOf,
  insideCupboard,
  type Carried,
  type Clash,
  type Laid,
  type Layout,
  type Pose,
  type Room,
  type Run,
  type Stands,
  type NewFact,
  type Spot,
  type System,
  type Vias,
} from '@katharos/core';
import { useMemo, useState } from 'react';
import { useCore } from '../../data/useCore.ts';
import { useJob } from '../useJob.ts';
import { useMoving, type Moving } from '../cupboard/useMoving.ts';

/** Where everything stands, and what a hand may do to it. */
export interface OnThePage {
  readonly room: Room;
  readonly system: System;
  readonly parts: readonly Carried[];
  /** as recorded, what is on its way with it; what nobody placed as it is proposed */
  readonly stands: Stands;
  /** what of it nobody placed yet */
  readonly proposed: ReadonlySet<string>;
  /** what is looked for: null while it is */
  readonly proposal: Layout | null;
  readonly laid: readonly Laid[];
  readonly clashes: readonly Clash[];
  readonly runs: readonly Run[];
  readonly hand: Moving<Pose>;
  readonly put: (changes: Readonly<Record<string, Pose | null>>) => void;
  /** places tubes are led through, what is on its way with it */
  readonly ways: Vias;
  /** leads a tube through places; none lets it go the shortest way again */
  readonly lead: (link: string, via: readonly Pose[]) => void;
  readonly undo: (() => void) | null;
  readonly redo: (() => void) | null;
}

type Changes = Readonly<Record<string, Pose | null>>;
/** What was written down, and what goes back of it. */
interface Step {
  readonly before: readonly NewFact[];
  readonly after: readonly NewFact[];
}

/** What a place that a tube is led through is called while a hand moves it: its link, and which of them it is. */
const PIN = 'pin ';
export const pinKey = (link: string, index: number): string => `${PIN}${String(index)} ${link}`;

/** @returns null for what is no such place */
export function pinOf(key: string): { readonly link: string; readonly index: number } | null {
  if (!key.startsWith(PIN)) return null;
  const [index, ...link] = key.slice(PIN.length).split(' ');
  return { index: Number(index), link: link.join(' ') };
}

/** Room a pin takes on the drawing, mm. */
export const PIN_BODY = { widthMm: 30, depthMm: 30, heightMm: 30 };

/** A pose with its body inside its room. */
export function keptInside(c: Carried, pose: Pose, room: Room): Pose {
  const size = sizeOf(room, pose.space ?? 'cupboard') ?? room.size;
  return { ...pose, ...insideCupboard(turnedBody(c.body, pose), pose, size) };
}

/** The layout of an approved system; null until the cupboard is measured. */
export function useLayout(): OnThePage | null {
  const { record, approved, built, add } = useJob();
  const system = built?.system ?? null;
  const room = useMemo(() => roomOf(record.known, record.placed), [record.known, record.placed]);
  const parts = useMemo(() => (system ? carriedIn(system) : []), [system]);
  const recorded = record.stands;
  const missing = parts.some((c) => !recorded[c.component.id]);
  const proposal = useCore('layout', room && system && missing ? [bare(system), room, recorded] : null).value ?? null;
  const [done, setDone] = useState<readonly Step[]>([]);
  const [undone, setUndone] = useState<readonly Step[]>([]);

  const keep = (before: readonly NewFact[], after: readonly NewFact[]): void => {
    setDone([...done, { before, after }]);
    setUndone([]);
    add(...after);
  };
  const placing = (changes: Changes): NewFact[] =>
    Object.entries(changes).flatMap(([component, pose]) => {
      if (!approved) return [];
      const { turn, lies, space } = pose ?? {};
      return [
        { kind: 'stands' as const, design: approved.id, component, spot: pose && spotOf(pose), turn, lies, space },
      ];
    });
  const standing: Stands = useMemo(() => ({ ...proposal?.stands, ...recorded }), [proposal, recorded]);
  const put = (changes: Changes): void => {
    // whoever moves one thing of a proposal takes the rest as it stands there: nothing else jumps
    const after = { ...Object.fromEntries(Object.entries(standing).filter(([id]) => !recorded[id])), ...changes };
    const before = Object.fromEntries(Object.keys(after).map((id) => [id, recorded[id] ?? null]));
    keep(placing(before), placing(after));
  };
  const leading = (link: string, via: readonly Pose[]): NewFact[] =>
    approved
      ? [{ kind: 'tube-way', design: approved.id, link, via: via.map((v) => ({ ...spotOf(v), space: v.space })) }]
      : [];
  const lead = (link: string, via: readonly Pose[]): void => {
    keep(leading(link, record.ways[link] ?? []), leading(link, via));
  };
  const of = (id: string): Carried | undefined => parts.find((c) => c.component.id === id);
  const hand = useMoving<Pose>(
    (id) => {
      const pin = pinOf(id);
      return (pin ? record.ways[pin.link]?.[pin.index] : standing[id]) ?? null;
    },
    (id, pose) => {
      if (pinOf(id) && room)
        return { ...pose, ...insideCupboard(PIN_BODY, pose, sizeOf(room, pose.space ?? 'cupboard') ?? room.size) };
      const c = of(id);
      return c && room ? keptInside(c, pose, room) : pose;
    },
    (id, pose) => {
      const pin = pinOf(id);
      if (pin) lead(pin.link, withPin(record.ways, pin, pose)[pin.link] ?? []);
      else put({ [id]: pose });
    },
  );
  const { moving } = hand;
  const pin = moving && pinOf(moving.key);
  const stands = useMemo(
    () => (moving && !pinOf(moving.key) ? { ...standing, [moving.key]: moving.pose } : standing),
    [standing, moving],
  );
  const ways = moving && pin ? withPin(record.ways, pin, moving.pose) : record.ways;
  const all = useMemo(
    () =>
      parts.flatMap((c) => {
        const pose = stands[c.component.id];
        return pose ? [laid(c, pose)] : [];
      }),
    [parts, stands],
  );
  const clashes = useMemo(() => (room ? clashesOf(all, room) : []), [all, room]);
  const runs = useMemo(() => (room && system ? runsIn(system, room, stands, ways) : []), [room, system, stands, ways]);
  if (!room || !system) return null;
  const last = done.at(-1);
  const next = undone.at(-1);
  return {
    room,
    system,
    parts,
    stands,
    proposed: new Set(parts.map((c) => c.component.id).filter((id) => !recorded[id] && stands[id] !== undefined)),
    proposal,
    laid: all,
    clashes,
    runs,
    hand,
    put,
    ways,
    lead,
    undo: last
      ? () => {
          setDone(done.slice(0, -1));
          setUndone([...undone, last]);
          add(...last.before);
        }
      : null,
    redo: next
      ? () => {
          setUndone(undone.slice(0, -1));
          setDone([...done, next]);
          add(...next.after);
        }
      : null,
  };
}

const spotOf = ({ xMm, yMm, zMm }: Pose): Spot => ({ xMm, yMm, zMm });

/** Ways with one place of one of them elsewhere; put down to the millimetre. */
function withPin(ways: Vias, { link, index }: { readonly link: string; readonly index: number }, pose: Pose): Vias {
  const at = { ...pose, xMm: Math.round(pose.xMm), yMm: Math.round(pose.yMm), zMm: Math.round(pose.zMm) };
  return { ...ways, [link]: (ways[link] ?? []).map((v, i) => (i === index ? at : v)) };
}

/** A system without how its tubes run: where its parts would stand does not hang on it, and is not asked again for it. */
const bare = (system: System): System => ({
  ...system,
  links: system.links.map((l) => ({ ...l, lengthM: 0, riseM: 0 })),
});
