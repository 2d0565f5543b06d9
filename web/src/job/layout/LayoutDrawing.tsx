import {
  boxOf,
  dropOf,
  inSentence,
  jointsAt,
  sleeveOf,
  tubesOf,
  type Body,
  type Laid,
  type Space,
  type Tube,
} from '@katharos/core';
import { useComputedColorScheme } from '@mantine/core';
import type { KeyboardEvent, ReactElement } from 'react';
import { CupboardOnPaper, CupboardViews, type DrawnBody, type DrawnTube } from '../cupboard/CupboardViews.tsx';
import type { DrawnMark } from '../cupboard/Marks.tsx';
import { useJob } from '../useJob.ts';
import { salinityColour } from '../../ui/salinity.ts';
import { looksOf } from './looks.tsx';
import { usePhone } from '../../ui/usePhone.ts';
import { PIN_BODY, pinKey, useLayout, type OnThePage } from './useLayout.ts';

const HIGH_PX = 320;
const MARKED_PX = 260;

/** A part's name on the drawing: short, as people say it. */
const nameOf = (l: Laid): string => {
  const { slot, part } = l.carried.component;
  return part?.kind === 'tank' ? inSentence(part.name) : slot;
};

/** Cupboard, parts and tubes to one scale; the second place beside it where anything stands there. */
export function LayoutDrawing(p: {
  readonly layout: OnThePage;
  readonly selected: string | null;
  readonly onSelect: (id: string) => void;
  readonly onKey: (id: string, e: KeyboardEvent) => void;
}): ReactElement {
  const { layout } = p;
  const { room } = layout;
  const second = layout.laid.some((l) => l.pose.space === 'second') ? room.second : null;
  return (
    <>
      <InSpace {...p} space="cupboard" name="The cupboard" />
      {second && (
        <>
          <h3 className="layout-second">In {second.words}</h3>
          <InSpace {...p} space="second" name="The second place" />
        </>
      )}
    </>
  );
}

function InSpace({
  layout,
  selected,
  onSelect,
  onKey,
  space,
  name,
}: Parameters<typeof LayoutDrawing>[0] & { readonly space: Space; readonly name: string }): ReactElement {
  const drawn = useDrawn(layout, selected, space);
  return <CupboardViews {...drawn} name={name} mostPx={HIGH_PX} hand={layout.hand} onSelect={onSelect} onKey={onKey} />;
}

/** What is told of a joint on the drawing. */
export interface JointMark {
  readonly id: string;
  /** 'open', 'made', 'dry' or 'drip' */
  readonly state: string;
  readonly label: string;
}

/** The layout as it stands, to look at, with its joints on it: one that is tapped is chosen. Nothing without measures. */
export function JointsDrawing(p: {
  readonly marks: readonly JointMark[];
  readonly chosen: string | null;
  readonly onChoose: (joint: string) => void;
}): ReactElement | null {
  const layout = useLayout();
  const phone = usePhone();
  if (!layout || layout.laid.length === 0) return null;
  const spaces: Space[] = ['cupboard'];
  if (layout.laid.some((l) => l.pose.space === 'second')) spaces.push('second');
  return (
    <details className="joints-drawn no-print" open={!phone}>
      <summary>On the drawing</summary>
      <div>
        {spaces.map((space) => (
          <div key={space}>
            <JointsInSpace {...p} layout={layout} space={space} />
          </div>
        ))}
      </div>
    </details>
  );
}

function JointsInSpace({
  layout,
  space,
  marks,
  chosen,
  onChoose,
}: Parameters<typeof JointsDrawing>[0] & { readonly layout: OnThePage; readonly space: Space }): ReactElement {
  const drawn = useDrawn(layout, null, space);
  const told = new Map(marks.map((m) => [m.id, m]));
  const at = jointsAt(layout.system, layout.room, layout.stands).flatMap((j): DrawnMark[] => {
    const m = j.space === space ? told.get(j.joint.id) : undefined;
    return m
      ? [
          {
            key: m.id,
            number: String(j.joint.number),
            at: j.at,
            state: m.state,
            chosen: m.id === chosen,
            label: m.label,
          },
        ]
      : [];
  });
  const bodies = drawn.bodies.map((b) => ({ ...b, fixed: true }));
  return (
    <CupboardViews
      {...drawn}
      bodies={bodies}
      name={space === 'cupboard' ? 'Joints in the cupboard' : 'Joints in the second place'}
      mostPx={MARKED_PX}
      hand={layout.hand}
      marks={at}
      onMark={onChoose}
    />
  );
}

/** A sheet of paper's breadth between its margins, px. */
const PAPER_PX = 700;

/** The same on paper. */
export function LayoutOnPaper(p: {
  readonly layout: OnThePage;
  readonly space: Space;
  readonly alone: boolean;
}): ReactElement {
  return (
    <CupboardOnPaper {...useDrawn(p.layout, null, p.space)} name="The cupboard" widthPx={PAPER_PX} stacked={p.alone} />
  );
}

/** What stands and runs in a space, as it is drawn. */
function useDrawn(
  layout: OnThePage,
  selected: string | null,
  space: Space,
): { readonly size: Body; readonly bodies: readonly DrawnBody[]; readonly tubes: readonly DrawnTube[] } {
  const { view } = useJob();
  const scheme = useComputedColorScheme('light');
  const { room, system } = layout;
  const inTheWay = new Set(layout.clashes.flatMap((c) => (c.weight === 'not' ? [c.at, c.with ?? ''] : [])));
  const house: DrawnBody[] = (space === 'cupboard' ? room.obstacles : []).map((o) => ({
    key: o.thing,
    label: inSentence(o.label),
    box: o.box,
    fixed: true,
  }));
  const parts: DrawnBody[] = layout.laid
    .filter((l) => (l.pose.space ?? 'cupboard') === space)
    .map((l) => ({
      key: l.carried.component.id,
      label: nameOf(l),
      box: boxOf(l.carried.body, l.pose),
      selected: selected === l.carried.component.id,
      clash: inTheWay.has(l.carried.component.id),
      free: [...(l.carried.belowMm > 0 ? [dropOf(l)] : []), ...(l.carried.aboveMm > 0 ? [sleeveOf(l)] : [])],
      looks: looksOf(l, system),
    }));
  const numbered = new Map(tubesOf(system).map((t): [string, Tube] => [t.id, t]));
  const tubes = layout.runs.flatMap((r): DrawnTube[] => {
    const tube = numbered.get(r.link);
    return r.ways.flatMap((w) =>
      tube && w.space === space
        ? [
            {
              key: `${r.link}.${w.space}`,
              number: String(tube.number),
              way: w.way,
              role: tube.branch,
              colour: salinityColour(view?.profileToday.passing[r.link]?.tdsMgL ?? 0, scheme),
            },
          ]
        : [],
    );
  });
  const pins = Object.entries(layout.ways).flatMap(([link, via]) =>
    via.flatMap((v, i): DrawnBody[] =>
      (v.space ?? 'cupboard') === space
        ? [
            {
              key: pinKey(link, i),
              label: `tube ${String(numbered.get(link)?.number ?? '')}`,
              box: boxOf(PIN_BODY, v),
              selected: selected === pinKey(link, i),
              looks: (_, r) => <circle cx={r.x + r.w / 2} cy={r.y + r.h / 2} r={7} />,
            },
          ]
        : [],
    ),
  );
  const size = space === 'cupboard' ? room.size : (room.second?.size ?? room.size);
  return { size, bodies: [...house, ...parts, ...pins], tubes };
}
