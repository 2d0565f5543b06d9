import { happeningRow } from '../keep/happening.ts';
import type { Fact } from '../facts/facts.ts';
import { inOrder } from '../facts/record.ts';
import { CHANGE_STEP, JOINT_STEP } from '../words/stored.ts';
import { COMPLAINTS } from '../prove/complaint.ts';
import { jointsOf } from '../system/system.ts';
import type { Lens } from './summary.ts';
import type { DesignVersion } from './version.ts';

/** Something of a house that somebody may look for: a serial, a joint that dripped, a note. */
export interface LookUpLine {
  readonly words: string;
  /** when it was, ISO 8601 */
  readonly at: string;
  /** the part of the job where it stands */
  readonly lens: Lens;
}

/** So many lines of a job are kept for looking up, the newest. */
const MOST_LINES = 400;
const MOST_WORDS = 600;

/**
 * What of a job can be looked up by its words, newest first: parts with their serials, joints that dripped, notes, visits,
 * repairs, what was found. What is taken back is left out.
 * @param designs its versions, oldest first
 */
export function lookUpLines(facts: readonly Fact[], designs: readonly DesignVersion[]): LookUpLine[] {
  const gone = new Set(facts.flatMap((f) => f.corrects ?? []));
  const slots = new Map(designs.flatMap((d) => d.system.components.map((c) => [c.id, c.slot] as const)));
  const joints = new Map(
    designs.flatMap((d) =>
      jointsOf(d.system).map((j) => [j.id, `joint ${String(j.number)}, ${j.component.slot}`] as const),
    ),
  );
  const slot = (id: string): string => slots.get(id) ?? '';
  const words = (f: Fact): readonly [string, Lens] | null => {
    switch (f.kind) {
      case 'fitted':
        return [`${f.part.name} ${f.serial} ${slot(f.component)}`, 'plumb'];
      case 'look':
        return f.result === 'drip' || f.note ? [`${joints.get(f.joint) ?? 'joint'} ${f.result === 'drip' ? 'drips' : 'dry'} ${f.note ?? ''}`, f.round.startsWith(CHANGE_STEP) ? 'keep' : 'flush'] : null;
      case 'visit':
        return [`${f.reason} ${f.changed.map(slot).join(' ')} ${f.note ?? ''}`, 'keep'];
      case 'call':
        return [`called ${COMPLAINTS[f.complaint]} ${f.words}`, 'keep'];
      case 'happened':
        return [`${happeningRow(f.event).label} ${f.words}`, 'keep'];
      case 'sampled':
      case 'answered':
        return [`laboratory ${f.words}`, 'keep'];
      case 'came-out':
        return f.note ? [`${slot(f.component)} ${f.note}`, 'keep'] : null;
      case 'change':
        return [f.reason, 'keep'];
      case 'proof':
        return f.note || f.mended || f.instrument ? [`proof ${f.mended?.done ?? ''} ${f.note ?? ''} ${f.instrument ?? ''}`, 'prove'] : null;
      case 'tick':
        return f.note ? [f.note, f.step.startsWith(JOINT_STEP) ? 'plumb' : f.step.startsWith(CHANGE_STEP) ? 'keep' : 'flush'] : null;
      case 'reading':
        return f.note || f.place ? [`${f.place ?? ''} ${f.note ?? ''}`, 'gauge'] : null;
      case 'note':
        return [f.text, 'gauge'];
      case 'photo':
        return f.note ? [f.note, 'plumb'] : null;
      default:
        return null;
    }
  };
  const said = inOrder(facts).flatMap((f): LookUpLine[] => {
    const w = gone.has(f.id) ? null : words(f);
    if (!w) return [];
    const text = w[0].replace(/\s+/g, ' ').trim().slice(0, MOST_WORDS);
    return text === '' ? [] : [{ words: text, at: f.at, lens: w[1] }];
  });
  // what stands approved: each part once, by its name
  const newest = designs.at(-1);
  const parts = newest ? [...new Set(newest.system.components.flatMap((c) => c.part?.name ?? []))] : [];
  const stands = newest && parts.length > 0 ? [{ words: parts.join(', ').slice(0, 4 * MOST_WORDS), at: newest.at, lens: 'plumb' as const }] : [];
  return [...said.reverse().slice(0, MOST_LINES), ...stands];
} // oxfmt-ignore
