import type { Joint, Line, LineElement } from '../system/line.ts';
import type { HouseRules } from '../rules/rules.ts';
import type { JointKind } from '../parts/catalogue.ts';

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

function howTo(joint: Joint, element: LineElement, rules: HouseRules): { how: string; look: string } {
  switch (joint.kind) {
    case 'push-fit':
      return {
        how: 'Cut square, no burr, mark the depth, push past the second resistance, tug, clip.',
        look: 'The mark at the collet’s edge; no bead of water round the tube.',
      };
    case 'compression':
      return {
        how:
          element.role === 'drain'
            ? 'Nut and ferrule, no insert in a drain tube. Hand-tight and a quarter turn.'
            : 'Nut, ferrule, insert in the tube. Hand-tight and a quarter turn.',
        look: 'Dry under the nut; the tube does not turn in it.',
      };
    case 'taper-thread':
      return {
        how:
          element.role === 'tank'
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

const PORT_WORD = { in: 'inlet', out: 'outlet', drain: 'drain port', branch: 'branch' } as const;

/** One sheet for every joint of a Line, in its numbering. */
export function jointSheets(line: Line, rules: HouseRules): JointSheet[] {
  return line.joints.flatMap((joint) => {
    const element = line.elements.find((e) => e.id === joint.at);
    if (!element) return [];
    const before = line.elements.filter((e) => e.role === element.role);
    const index = before.length > 1 ? ` ${String(before.indexOf(element) + 1)}` : '';
    return [{ joint, where: `${element.label}${index}, ${PORT_WORD[joint.port]}`, ...howTo(joint, element, rules) }];
  });
}
