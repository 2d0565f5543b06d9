import { jointsOf, portsOf, tubesOf, type Joint, type System } from '../system/system.ts';
import { JOINT_STEP } from '../words/stored.ts';
import type { HouseRules } from '../rules/rules.ts';
import type { JointKind, Port } from '../parts/catalogue.ts';

/** How a joint is made and what is looked at under pressure. */
export interface JointSheet {
  readonly joint: Joint;
  readonly where: string;
  readonly how: string;
  readonly look: string;
}

/** Words for a kind of joint. */
export const JOINT_NAMES: Readonly<Record<JointKind, string>> = {
  'push-fit': 'push-fit',
  compression: 'compression',
  'taper-thread': 'tapered thread',
  'gasket-thread': 'gasket joint',
  clamp: 'clamp',
  spigot: 'barbed spigot',
};

/** Turns past hand-tight, as people say them. */
const TURNS: Readonly<Record<number, string>> = {
  0: 'by hand only',
  0.25: 'a quarter turn',
  0.5: 'half a turn',
  1: 'one turn',
};
const turnsWords = (turns: number): string => TURNS[turns] ?? `${String(turns)} turns`;

/** Threads of stop valves, by what Gauge calls them. */
const THREADS: Readonly<Record<string, string>> = {
  half: 'G 1/2',
  'three-eighths': 'G 3/8',
  'three-quarters': 'G 3/4',
};

/** What goes between a port and what comes to it, where the two are of different sizes. */
export interface Adapter {
  readonly key: string;
  readonly name: string;
  readonly how: string;
}

/** Tubes told apart by the trade's size, mm. */
const TUBE_APART_MM = 1;

/** The adapter a joint wants; null where its two sides meet. @param thread of the stop valve, as Gauge has it */
export function adapterAt(system: System, joint: Joint, thread: string): Adapter | null {
  const { component: c, size } = joint;
  if (c.kind === 'feed' && joint.port === 'in' && joint.kind === 'gasket-thread') {
    const here = THREADS[thread];
    if (here === size) return null;
    if (here === undefined)
      return { key: 'feed', name: thread === 'unknown' ? `Adapters G 3/8 and G 3/4 to ${size}` : `Adapter to ${size}, to measure`, how: 'The stop valve’s thread was not read: look before you go.' };
    return { key: 'feed', name: `Adapter ${here} to ${size}`, how: `Adapter ${here} to ${size} on the stop valve first, a gasket in each side.` };
  }
  const tubes = tubesOf(system);
  const tube = tubes.find((t) => t.number === joint.tube)?.part;
  // where all of it is of one tube its parts are taken with that tube's ports
  const narrowest = Math.min(...tubes.map((t) => t.part.outsideMm));
  const portMm = Number.parseFloat(size);
  if (!tube || tube.outsideMm === narrowest || c.kind === 'drain' || !/^\d+ mm/.test(size) || Math.abs(tube.outsideMm - portMm) <= TUBE_APART_MM) return null;
  const name = tube.name.replace(/^Tube /, '');
  return { key: `reducer-${name.replaceAll(/[^a-z0-9]+/g, '-')}`, name: `Reducer ${name} to ${size}`, how: `Reducer ${name} to ${size} on a stem first.` };
} // oxfmt-ignore

function howTo(joint: Joint, rules: HouseRules): { how: string; look: string } {
  const port = portsOf(joint.component).find((p) => p.name === joint.port);
  const past = (usual: number): string => turnsWords(port?.turnsPastHand ?? usual);
  const tape = String(port?.tapeTurns ?? rules.tapeTurns);
  switch (joint.kind) {
    case 'push-fit':
      return {
        how: `Cut square, no burr, mark ${port?.insertionMm === undefined ? 'the depth' : `${String(port.insertionMm)} mm`}, push past the second resistance, tug, clip.`,
        look: 'The mark at the collet’s edge; no bead of water round the tube.',
      };
    case 'compression':
      return {
        how:
          joint.component.kind === 'drain'
            ? `Nut and ferrule, no insert in a drain tube. Hand-tight and ${past(0.25)}.`
            : `Nut, ferrule, insert in the tube. Hand-tight and ${past(0.25)}.`,
        look: 'Dry under the nut; the tube does not turn in it.',
      };
    case 'taper-thread':
      return {
        how:
          joint.component.kind === 'tank'
            ? `PTFE tape, ${tape} turns with the thread. The tank’s valve by hand only: plastic splits.`
            : `PTFE tape, ${tape} turns with the thread, by hand and then ${past(0.5)} at most.`,
        look: 'Dry at the thread’s root; no crack in the plastic boss.',
      };
    case 'gasket-thread':
      return {
        how: `Gasket seated, no tape, hand-tight and then ${past(0.25)} while the other side is held.`,
        look: 'Dry all round, and underneath with a paper towel.',
      };
    case 'clamp':
      return {
        how: 'Seal round the hole, screws evenly, pierce slowly; shut while working.',
        look: 'Dry under the seal and at the needle’s spindle.',
      };
    case 'spigot':
      return { how: 'Tube pushed over the barb to the shoulder, clip on.', look: 'No kink, and a fall all the way.' };
  }
}

const PORT_WORD: Readonly<Record<Port['name'], string>> = {
  in: 'inlet',
  out: 'outlet',
  drain: 'drain port',
  branch: 'branch',
  'product-in': 'product inlet',
  'product-out': 'product outlet',
  'drain-in': 'drain inlet',
  'drain-out': 'drain outlet',
};

/** A joint in words: "carbon 2, inlet". */
export const jointWords = (joint: Pick<Joint, 'component' | 'port'>): string =>
  `${joint.component.slot}, ${PORT_WORD[joint.port]}`;

/** One sheet for every joint of a system, in its numbering. */
export function jointSheets(system: System, rules: HouseRules, thread = 'unknown'): JointSheet[] {
  return jointsOf(system).map((joint) => {
    const { how, look } = howTo(joint, rules);
    const adapter = adapterAt(system, joint, thread);
    return { joint, where: jointWords(joint), how: adapter ? `${adapter.how} ${how}` : how, look };
  });
}

/** Joints that are made in one way: one card, and all of them below it. */
export interface JointGroup {
  /** lasts as long as the way does: "push-fit 6 mm" */
  readonly key: string;
  /** "Push-fit, 6 mm" */
  readonly title: string;
  readonly kind: JointKind;
  readonly how: string;
  readonly look: string;
  /** in the order they are made, along the water */
  readonly joints: readonly JointSheet[];
}

/** Joints by the way they are made, each way in the order it is first met along the water. */
export function jointGroups(sheets: readonly JointSheet[]): JointGroup[] {
  const groups = new Map<string, JointSheet[]>();
  for (const s of sheets) {
    const key = [s.joint.kind, s.joint.size, s.how].join('|');
    groups.set(key, [...(groups.get(key) ?? []), s]);
  }
  const seen = new Map<string, number>();
  return [...groups.values()].flatMap((joints): JointGroup[] => {
    const [first] = joints;
    if (!first) return [];
    const { kind, size } = first.joint;
    const called = `${JOINT_NAMES[kind]} ${size}`;
    const n = (seen.get(called) ?? 0) + 1;
    seen.set(called, n);
    const name = JOINT_NAMES[kind];
    return [
      {
        key: n === 1 ? called : `${called} ${String(n)}`,
        title: `${name.charAt(0).toUpperCase()}${name.slice(1)}, ${size}`,
        kind,
        how: first.how,
        look: first.look,
        joints,
      },
    ];
  });
}

/** The step that is ticked once a joint is made. */
export const jointStep = (id: string): string => `${JOINT_STEP}${id}`;
