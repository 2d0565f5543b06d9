import type { CupboardSize } from '../../gauge/place.ts';
import type { Site } from '../../gauge/site.ts';
import { findPart, partsOf, type Catalogue } from '../../parts/catalogue.ts';
import { partInSentence } from '../../parts/kinds.ts';
import { FURTHER_ELEMENT_MM, type Carried } from '../../plumb/place/carried.ts';
import { goesIn } from '../../plumb/place/goesIn.ts';
import { roomIn, type Room } from '../../plumb/place/room.ts';
import { buildSystem } from '../../system/build.ts';
import { choiceOf, type Design } from '../../system/design.ts';
import type { System } from '../../system/system.ts';

const { max, round } = Math;

/**
 * Room that frame, tank and what stands beside them take side by side, with what is needed to get cartridges out, mm: what
 * designs are compared by. Whether they go in is asked of a layout. Null where the shelf does not say.
 * @param store what stands in its tank's place
 */
export function standsIn(
  design: Design,
  catalogue: Catalogue,
  store = findPart(catalogue, design.tankId),
): CupboardSize | null {
  const frame = partsOf(catalogue, 'frame')[0];
  const none = { widthMm: 0, depthMm: 0, heightMm: 0 };
  const tank = store ? store.size : none;
  if (!frame?.size || !tank) return null;
  const beside = [design.pumpId, design.permeatePumpId, design.lampId, design.deliveryPumpId];
  const pump = beside.reduce((sum, id) => sum + (findPart(catalogue, id)?.size?.widthMm ?? 0), 0);
  // a further element hangs behind the frame, a fourth housing beside it
  const housing = design.ironId === null ? 0 : (partsOf(catalogue, 'housing')[0]?.size?.widthMm ?? 0);
  return {
    widthMm: frame.size.widthMm + tank.widthMm + pump + housing + 20,
    heightMm: max(frame.size.heightMm + (frame.clearance?.belowMm ?? 0), tank.heightMm),
    depthMm: max(frame.size.depthMm + FURTHER_ELEMENT_MM * (design.elementCount - 1), tank.depthMm),
  };
}

/** A room, and what tells it from others. */
interface RoomHere {
  readonly room: Room;
  readonly key: string;
}
const rooms = new WeakMap<Site, RoomHere>();

/** The room of a house; null until its cupboard is measured. */
function roomHere(site: Site): RoomHere | null {
  const { cupboard, second, placed, socket, screwWalls, tapMount } = site;
  if (!cupboard) return null;
  const made = rooms.get(site);
  if (made) return made;
  const parts = { cupboard, second, placed, socket, screwWalls, tapMount };
  const here = { room: roomIn(parts), key: JSON.stringify(parts) };
  rooms.set(site, here);
  return here;
}

const built = new WeakMap<Catalogue, Map<string, System>>();

/** A design's system, as far as its bodies go: built once for all that have the same. */
function bodiesOf(design: Design, catalogue: Catalogue): System {
  const known = built.get(catalogue) ?? new Map<string, System>();
  built.set(catalogue, known);
  const d = design;
  const key = [
    d.elementCount, d.tankId, d.pumpId, d.permeatePumpId, d.limiterId, d.mineralId, d.lampId, d.ironId, d.deliveryPumpId,
    d.dispenserId, d.sedimentId, d.carbonIds, d.polishId, d.fridge, d.leakValve, d.backflowId, d.shutOffId,
  ].join(' '); // oxfmt-ignore
  const was = known.get(key);
  if (was) return was;
  // a search asks before it has chosen a restrictor, which has no body
  const restrictorId = findPart(catalogue, d.restrictorId)?.id ?? partsOf(catalogue, 'restrictor')[0]?.id ?? '';
  const system = buildSystem(choiceOf({ ...d, restrictorId }, catalogue), catalogue, { tapLengthM: 1, tapRiseM: 0 });
  known.set(key, system);
  return system;
}

/** Why a system does not go into the place it is meant for, in words; null where it does, or nobody measured. */
export function roomProblem(system: System, site: Site): string | null {
  const here = roomHere(site);
  if (!here) return null;
  const { goes, without } = goesIn(system, here.room, here.key);
  if (goes) return null;
  const where = site.second ? `the cupboard and ${site.second.words}` : 'the cupboard';
  const [first] = without;
  if (!first) return `It does not go into ${where}.`;
  const c = here.room.size;
  const has = `${String(round(c.widthMm))} × ${String(round(c.depthMm))} × ${String(round(c.heightMm))} mm there`;
  const rest = without.length > 1 ? `, nor for ${without.slice(1).map((x) => x.component.slot).join(', ')}` : '';
  if (here.room.screws === 'none' && !first.onFloor)
    return `It does not go into ${where}: no wall bears a screw, and ${takes(first)} hangs. A board before the back wall, held at the floor and under the worktop, bears it.`;
  return `It does not go into ${where}${Object.keys(site.placed).length > 0 ? ' with what stands there' : ''}: no place for ${takes(first)}${rest}; ${has}.`;
} // oxfmt-ignore

/** A part with the room it takes: "the frame, 390 × 160 × 440 mm and 60 mm below it". */
function takes({ component, body, belowMm }: Carried): string {
  const mm = [body.widthMm, body.depthMm, body.heightMm].map((v) => String(round(v))).join(' × ');
  const name = component.part ? partInSentence(component.part) : component.slot;
  return `${name} (${mm} mm${belowMm > 0 ? ` and ${String(round(belowMm))} mm below it` : ''})`;
}

/** Why a design does not go in, in words; null where it does. */
export const roomProblemOf = (design: Design, catalogue: Catalogue, site: Site): string | null =>
  site.cupboard === null ? null : roomProblem(bodiesOf(design, catalogue), site);
