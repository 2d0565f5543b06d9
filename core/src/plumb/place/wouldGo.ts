import type { Known } from '../../gauge/fields.ts';
import { secondOf } from '../../gauge/second.ts';
import { partsOf, type Catalogue } from '../../parts/catalogue.ts';
import { partInSentence } from '../../parts/kinds.ts';
import type { System } from '../../system/system.ts';
import { proposeLayout, type Layout } from './propose.ts';
import type { Room } from './room.ts';

/** What would make everything go in. */
export interface WouldGo {
  readonly code: 'next-cupboard' | 'basement' | 'smaller-tank' | 'board';
  readonly text: string;
}

const goes = (l: Layout): boolean => l.unplaced.length === 0;

/** The room with a second place, as it commonly is. */
function withSecond(room: Room, known: Known, where: 'beside' | 'elsewhere'): Room {
  return { ...room, second: secondOf({ ...known, standsWhere: where }) };
}

/**
 * What would go where not everything finds a place: part of it in the next cupboard or in the basement, a smaller tank. Each
 * is tried, not guessed; nothing is named that does not go in.
 */
export function wouldGo(system: System, room: Room, known: Known, catalogue: Catalogue): WouldGo[] {
  const out: WouldGo[] = [];
  if (room.screws === 'none' && goes(proposeLayout(system, { ...room, screws: 'back' })))
    out.push({
      code: 'board',
      text: 'With a board before the back wall, held at the floor and under the worktop, everything goes in: measure the depth from the board, and say in Gauge that the back wall bears a screw.',
    });
  const tank = system.components.find((c) => c.part?.kind === 'tank');
  const part = tank?.part?.kind === 'tank' ? tank.part : null;
  const smaller = partsOf(catalogue, 'tank')
    .filter((t) => part && t.size && t.volumeL < part.volumeL)
    .sort((a, b) => b.volumeL - a.volumeL);
  const fits = smaller.find((t) => {
    const components = system.components.map((c) => (c.id === tank?.id ? { ...c, part: t } : c));
    return goes(proposeLayout({ ...system, components }, room));
  });
  if (fits)
    out.push({
      code: 'smaller-tank',
      text: `With ${partInSentence(fits)} in the place of ${part ? partInSentence(part) : 'the tank'} everything goes in: Size says what it costs.`,
    });
  const places = [
    ['next-cupboard', 'beside', 'With the next cupboard for part of it everything goes in'],
    ['basement', 'elsewhere', 'With part of it in a basement or utility room everything goes in'],
  ] as const;
  for (const [code, where, words] of places) {
    if (room.second) continue;
    const second = withSecond(room, known, where);
    if (goes(proposeLayout(system, second))) out.push({ code, text: `${words}: “Where it stands” in Gauge says so.` });
  }
  return out;
}
