import type { HouseRules } from '../rules/rules.ts';
import { kindRow } from '../parts/kinds.ts';
import { ofKind, ofWork, partIn, type System } from '../system/system.ts';
import { sanitisesFirst } from './sanitise.ts';

/** What the first flush must have done before the first glass, a sentence each. Whether they may drink is `mayDrink`'s. */
export function firstGlassNeeds(system: System, rules: HouseRules): string[] {
  const branch = system.components.filter((c) => kindRow(c.kind).chain === 'branch' && c.kind !== 'second-tap');
  const fridge = branch.some((c) => c.kind !== 'dispenser');
  const stored = ofWork(system, 'stores').length > 0;
  return [
    ...(sanitisesFirst(system, rules) ? ['A strip at the tap reads no more than the feed itself: the bleach is out.'] : []),
    ...(ofKind(system, 'lamp').length > 0 ? ['The lamp is lit, and was for five minutes.'] : []),
    ...(stored ? [`${rules.discards === 1 ? 'The first tank is' : `The first ${String(rules.discards)} tanks are`} poured away.`] : ['It has run at the open tap as long as its sheet asks.']),
    ...(fridge ? ['The fridge’s first water and its first three fillings of ice are thrown away.'] : []),
    ...(branch.some((c) => c.kind === 'dispenser') ? ['What the dispenser held first is poured away.'] : []),
  ];
} // oxfmt-ignore

/** How a system is left where its sheet goes on another day: what is shut, what is on, in the order it is done. */
export function leftOvernight(system: System): string[] {
  const has = (kind: string): boolean => system.components.some((c) => c.kind === kind);
  return [
    'Feed shut at the stop valve; tap opened until nothing comes, then shut.',
    ...(partIn(system, 'tank') ? ['Tank valve shut, so that the tank pushes on nothing.'] : []),
    ...(partIn(system, 'vented-tank') ? ['Tank’s lid on; its pump unplugged.'] : []),
    ...(ofWork(system, 'switches').length > 0 ? ['Pump unplugged: dry hands.'] : []),
    ...(has('lamp') ? ['Lamp unplugged: in water that stands it only warms. Lit and warmed up again before anything is drawn.'] : []),
    'Towel under the joints, bucket under the drain’s clamp; a note on the tap: not for drinking.',
    'In the morning: feed opened, joints looked at again, what stood in the tubes poured away.',
  ];
} // oxfmt-ignore
