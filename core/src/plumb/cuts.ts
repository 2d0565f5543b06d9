import type { PartOf } from '../parts/catalogue.ts';
import { tubesOf, type System, type Tube } from '../system/system.ts';

/** A length cut off a roll. */
export interface Cut {
  readonly tube: Tube;
  /** along the roll, m */
  readonly fromM: number;
  readonly toM: number;
}

/** A roll with what is cut off it. */
export interface Roll {
  readonly part: PartOf<'tube'>;
  /** as sold; a single tube longer than that has a roll of its own length */
  readonly lengthM: number;
  readonly cuts: readonly Cut[];
  readonly leftM: number;
}

/**
 * Cuts laid out along the rolls, the longest first, each on the first roll it still goes on.
 * A tube longer than a roll is sold by the metre.
 */
export function rollsOf(system: System): Roll[] {
  const rolls: { part: PartOf<'tube'>; lengthM: number; cuts: Cut[]; used: number }[] = [];
  const longestFirst = [...tubesOf(system)].sort((a, b) => b.lengthM - a.lengthM || a.number - b.number);
  for (const tube of longestFirst) {
    const free = rolls.find((r) => r.part.id === tube.part.id && r.used + tube.lengthM <= r.lengthM);
    const roll = free ?? { part: tube.part, lengthM: Math.max(tube.part.rollM, tube.lengthM), cuts: [], used: 0 };
    if (!free) rolls.push(roll);
    roll.cuts.push({ tube, fromM: roll.used, toM: roll.used + tube.lengthM });
    roll.used += tube.lengthM;
  }
  return rolls.map(({ used, ...r }) => ({ ...r, leftM: r.lengthM - used }));
}
