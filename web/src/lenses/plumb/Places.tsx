import {
  bodiesOf,
  cupboardOf,
  CUPBOARD_THINGS,
  formatNumber,
  freeSpot,
  inSentence,
  overlap,
  thingsOf,
  type PlacedBody,
  type SystemView,
} from '@katharos/core';
import type { ReactElement } from 'react';
import { CupboardDrawing, type Thing } from '../../job/cupboard/CupboardDrawing.tsx';
import { useJob } from '../../job/useJob.ts';

const firstUpper = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1);
const placedBody = (t: Thing): PlacedBody[] => (t.spot ? [{ body: t.body, spot: t.spot }] : []);

/** Where the parts stand in the cupboard: tubes are as long, and rise as far, as the places make them. */
export function Places({ view }: { view: SystemView }): ReactElement | null {
  const { id, record, approved, add } = useJob();
  if (!approved) return null;
  const size = cupboardOf(record.known);
  if (!size)
    return (
      <p className="small">
        Once the cupboard’s width, depth and height are measured in Gauge, frame, tank and pump are placed in it here.
      </p>
    );
  const there: Thing[] = thingsOf(record.known).flatMap((key) => {
    const spot = record.placed[key];
    return spot ? [{ key, label: CUPBOARD_THINGS[key].label, body: CUPBOARD_THINGS[key], spot }] : [];
  });
  const own = bodiesOf(view.system).map(({ component: c, body }): Thing => {
    const carried = c.housing ?? c.part;
    return {
      key: c.id,
      label: firstUpper(c.slot),
      body,
      spot: record.stands[c.id] ?? null,
      usual: () => freeSpot(body, carried?.clearance?.belowMm ?? 0, [...there, ...own].flatMap(placedBody), size),
    };
  });
  return (
    <>
      <p className="small">
        Dragged or typed, to scale. A tube with both ends placed is as long as the way along the walls, with 0.4 m to
        pull the unit out, unless its cut length was written down. The tube to the tap is as measured in Gauge.
      </p>
      {clashes([...there, ...own]).map((c) => (
        <p key={c} className="caution">
          {c}
        </p>
      ))}
      <CupboardDrawing
        size={size}
        draftKey={`${id}.stands`}
        things={[...there, ...own]}
        onPlace={(key, spot) => {
          add({ kind: 'stands', design: approved.id, component: key, spot });
        }}
      />
    </>
  );
}

/** What stands in the way of what, in words. */
function clashes(things: readonly Thing[]): string[] {
  return things.flatMap((a, i) =>
    things.slice(i + 1).flatMap((b) => {
      const [one] = placedBody(a);
      const [other] = placedBody(b);
      // what the house has is not moved here
      if (!b.usual || !one || !other || !overlap(one, other)) return [];
      return [`${a.label} and ${inSentence(b.label)} are in each other’s way: move one of them.`];
    }),
  );
}

/** What parts and tubes that are otherwise than planned do to what was approved. */
export function AsItStands(): ReactElement | null {
  const { built, approved, view } = useJob();
  if (!built || !approved || !view) return null;
  const planned = new Map(approved.system.links.map((l) => [l.id, l]));
  const moved = built.system.links.filter((l) => {
    const p = planned.get(l.id);
    return p && (Math.abs(p.lengthM - l.lengthM) > 0.005 || Math.abs(p.riseM - l.riseM) > 0.005);
  }).length;
  if (moved === 0) return null;
  const { figures } = approved.judged;
  const { worst } = view;
  const n = (v: number): string => formatNumber(v, 3);
  return (
    <p className="note">
      {moved === 1 ? 'One tube runs' : `${String(moved)} tubes run`} otherwise than planned. As they run:{' '}
      {n(worst.tapFlowLMin)} L/min at the tap in the coldest water ({n(figures.tapFlowLMin)} approved),{' '}
      {n(worst.litresADay)} L a day ({n(figures.litresADay)} approved). The approval stands.
    </p>
  );
}
