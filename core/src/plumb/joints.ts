import { jointsOf, type Joint, type System } from '../system/system.ts';
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

function howTo(joint: Joint, rules: HouseRules): { how: string; look: string } {
  switch (joint.kind) {
    case 'push-fit':
      return {
        how: 'Cut square, no burr, mark the depth, push past the second resistance, tug, clip.',
        look: 'The mark at the collet’s edge; no bead of water round the tube.',
      };
    case 'compression':
      return {
        how:
          joint.component.kind === 'drain'
            ? 'Nut and ferrule, no insert in a drain tube. Hand-tight and a quarter turn.'
            : 'Nut, ferrule, insert in the tube. Hand-tight and a quarter turn.',
        look: 'Dry under the nut; the tube does not turn in it.',
      };
    case 'taper-thread':
      return {
        how:
          joint.component.kind === 'tank'
            ? `PTFE tape, ${String(rules.tapeTurns)} turns with the thread. The tank’s valve by hand only: plastic splits.`
            : `PTFE tape, ${String(rules.tapeTurns)} turns with the thread, by hand and then half a turn at most.`,
        look: 'Dry at the thread’s root; no crack in the plastic boss.',
      };
    case 'gasket-thread':
      return {
        how: 'Gasket seated, no tape, hand-tight and then a quarter turn while the other side is held.',
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
export function jointSheets(system: System, rules: HouseRules): JointSheet[] {
  return jointsOf(system).map((joint) => ({ joint, where: jointWords(joint), ...howTo(joint, rules) }));
}
