import type { JobRecord } from '../facts/record.ts';
import type { FactOf } from '../facts/facts.ts';
import type { Joint } from '../system/system.ts';
import type { RunStep } from '../facts/step.ts';

/** What tells of a joint. */
interface OfJoint {
  readonly joint: Joint;
}

/** A round of looks at joints, as far as it got. */
export interface LookRound<J extends OfJoint> {
  /** the joints it looks at: those of what the step is done for, all where it names nothing */
  readonly joints: readonly J[];
  readonly dry: ReadonlySet<string>;
  /** those that dripped when they were looked at last, in their numbering */
  readonly drips: readonly { readonly sheet: J; readonly look: FactOf<'look'> }[];
  /** nobody looked yet */
  readonly open: readonly J[];
  /** it is closed once each is dry: a drip is looked at again first */
  readonly closes: boolean;
}

/** How a round of looks stands. @param joints every joint of the system, in their numbering */
export function lookRound<J extends OfJoint>(
  step: Pick<RunStep, 'key' | 'of'>,
  joints: readonly J[],
  record: Pick<JobRecord, 'looks'>,
): LookRound<J> {
  const looks = record.looks[step.key] ?? {};
  const mine = step.of.length === 0 ? joints : joints.filter((j) => step.of.includes(j.joint.component.id));
  const drips = mine.flatMap((sheet) => {
    const look = looks[sheet.joint.id];
    return look?.result === 'drip' ? [{ sheet, look }] : [];
  });
  const open = mine.filter((j) => !looks[j.joint.id]);
  const dry = new Set(mine.flatMap((j) => (looks[j.joint.id]?.result === 'dry' ? [j.joint.id] : [])));
  return { joints: mine, dry, drips, open, closes: drips.length === 0 && open.length === 0 };
}

/** Looks that come after the day, for the household and the round: so many days after the system was wet. */
export const LATER_LOOKS = [
  { key: 'look-next-day', days: 1, title: 'Look at every joint again: the next day' },
  { key: 'look-first-week', days: 7, title: 'Look at every joint again: the first week' },
] as const;
