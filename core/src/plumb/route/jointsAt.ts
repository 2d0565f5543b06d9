import type { Space } from '../../gauge/place.ts';
import type { Point } from '../place/pose.ts';
import type { Room } from '../place/room.ts';
import { jointsOf, type Joint, type System } from '../../system/system.ts';
import { endsIn, type Stands } from './runs.ts';

/** A joint where it is in the room, mm from the left, from the back wall, above the floor. */
export interface JointAt {
  readonly joint: Joint;
  readonly space: Space;
  readonly at: Point;
}

/** Every joint of what is placed, along the water; what nobody placed, or has no body, is left out. */
export function jointsAt(system: System, room: Room, stands: Stands): JointAt[] {
  const endOf = endsIn(system, room, stands);
  return jointsOf(system).flatMap((joint): JointAt[] => {
    const end = endOf({ component: joint.component.id, port: joint.port });
    return end ? [{ joint, space: end.space, at: end.at }] : [];
  });
}
