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
  type System,
} from '@katharos/core';
import { useMemo, useState } from 'react';
import { useCore } from '../../../data/useCore.ts';
import { useJob } from '../../../job/useJob.ts';
import { useMoving, type Moving } from '../../../job/cupboard/useMoving.ts';

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
  readonly undo: (() => void) | null;
  readonly redo: (() => void) | null;
}

type Changes = Readonly<Record<string, Pose | null>>;
interface Step {
  readonly before: Changes;
  readonly after: Changes;
}

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

  const write = (changes: Changes): void => {
    if (!approved) return;
    add(
      ...Object.entries(changes).map(([component, pose]) => {
        const { turn, lies, space } = pose ?? {};
        const spot = pose && { xMm: pose.xMm, yMm: pose.yMm, zMm: pose.zMm };
        return { kind: 'stands' as const, design: approved.id, component, spot, turn, lies, space };
      }),
    );
  };
  const standing: Stands = useMemo(() => ({ ...proposal?.stands, ...recorded }), [proposal, recorded]);
  const put = (changes: Changes): void => {
    // whoever moves one thing of a proposal takes the rest as it stands there: nothing else jumps
    const after = { ...Object.fromEntries(Object.entries(standing).filter(([id]) => !recorded[id])), ...changes };
    const before = Object.fromEntries(Object.keys(after).map((id) => [id, recorded[id] ?? null]));
    setDone([...done, { before, after }]);
    setUndone([]);
    write(after);
  };
  const of = (id: string): Carried | undefined => parts.find((c) => c.component.id === id);
  const hand = useMoving<Pose>(
    (id) => standing[id] ?? null,
    (id, pose) => {
      const c = of(id);
      return c && room ? keptInside(c, pose, room) : pose;
    },
    (id, pose) => {
      put({ [id]: pose });
    },
  );
  const { moving } = hand;
  const stands = useMemo(() => (moving ? { ...standing, [moving.key]: moving.pose } : standing), [standing, moving]);
  const all = useMemo(
    () =>
      parts.flatMap((c) => {
        const pose = stands[c.component.id];
        return pose ? [laid(c, pose)] : [];
      }),
    [parts, stands],
  );
  const clashes = useMemo(() => (room ? clashesOf(all, room) : []), [all, room]);
  const runs = useMemo(() => (room && system ? runsIn(system, room, stands) : []), [room, system, stands]);
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
    undo: last
      ? () => {
          setDone(done.slice(0, -1));
          setUndone([...undone, last]);
          write(last.before);
        }
      : null,
    redo: next
      ? () => {
          setUndone(undone.slice(0, -1));
          setDone([...done, next]);
          write(next.after);
        }
      : null,
  };
}

/** A system without how its tubes run: where its parts would stand does not hang on it, and is not asked again for it. */
const bare = (system: System): System => ({
  ...system,
  links: system.links.map((l) => ({ ...l, lengthM: 0, riseM: 0 })),
});
