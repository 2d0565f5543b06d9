import { carriedIn, cutM, formatNumber, layoutSvg, withoutBody, type Clash, type Pose } from '@katharos/core';
import { Button } from '@mantine/core';
import { IconArrowBackUp, IconArrowForwardUp, IconDownload } from '../../../ui/icons.ts';
import { useState, type KeyboardEvent, type ReactElement } from 'react';
import { houseKey } from '../../../data/coreWorkers.ts';
import { useCore } from '../../../data/useCore.ts';
import { Notes } from '../../../job/Notes.tsx';
import { Photographs } from '../../../job/Photographs.tsx';
import { useJob } from '../../../job/useJob.ts';
import { download } from '../../../ui/download.ts';
import { LayoutDrawing } from '../../../job/layout/LayoutDrawing.tsx';
import { Standing, turned } from './Standing.tsx';
import { WhatFollows } from './WhatFollows.tsx';
import { WasteDrawing } from './WasteDrawing.tsx';
import { WorktopDrawing } from './WorktopDrawing.tsx';
import { keptInside, pinOf, useLayout, type OnThePage } from '../../../job/layout/useLayout.ts';
import './layout.css';

/** The cupboard laid out: where everything stands, what is in its way, how its tubes run. */
export function LayoutPart({ onJoints }: { readonly onJoints: (component: string) => void }): ReactElement {
  const layout = useLayout();
  const { record } = useJob();
  const [chosen, setChosen] = useState<string | null>(null);
  if (!layout)
    return (
      <p className="small">
        Once the cupboard’s width, depth and height are measured in Gauge, everything is laid out in it here to scale,
        and its tubes are cut by it. Joints, holes and the pick list do without.
      </p>
    );
  const placed = layout.parts.filter((c) => layout.stands[c.component.id]);
  const selected = placed.find((c) => c.component.id === chosen) ?? placed.at(-1);
  const turn = (id: string, change: (pose: Pose) => Pose): void => {
    const c = layout.parts.find((x) => x.component.id === id);
    const pose = layout.stands[id];
    if (c && pose) layout.put({ [id]: keptInside(c, change(pose), layout.room) });
  };
  const keys = (id: string, e: KeyboardEvent): void => {
    const pin = pinOf(id);
    if (pin && (e.key === 'Delete' || e.key === 'Backspace')) {
      e.preventDefault();
      layout.lead(pin.link, (layout.ways[pin.link] ?? []).filter((_, i) => i !== pin.index)); // oxfmt-ignore
      return;
    }
    const c = layout.parts.find((x) => x.component.id === id);
    if (e.key === 't') turn(id, turned);
    else if (e.key === 'l' && c?.mayLie) turn(id, (pose) => ({ ...pose, lies: pose.lies !== true }));
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  return (
    <div className="layout-sheet">
      <div>
        <Headline layout={layout} />
        <LayoutDrawing
          layout={layout}
          selected={chosen !== null && pinOf(chosen) ? chosen : (selected?.component.id ?? null)}
          onSelect={setChosen}
          onKey={keys}
        />
        <NotThere placed={record.placed} />
        {withoutBody(layout.system).map((c) => (
          <p key={c.id} className="note">
            {c.part?.name ?? c.slot} has no size on the shelf: it is not drawn, and its tubes are as planned.
          </p>
        ))}
        <Clashes clashes={layout.clashes} onSelect={setChosen} />
        <CannotPlace layout={layout} />
        <div className="layout-further">
          <WorktopDrawing layout={layout} />
          <WasteDrawing layout={layout} />
        </div>
        <Photographs what="the place" />
        <Notes about="place" what="the place" />
      </div>
      <div className="layout-side">
        {selected && (
          <Standing
            key={selected.component.id}
            layout={layout}
            part={selected}
            onTurn={turn}
            onSelect={setChosen}
            onJoints={onJoints}
          />
        )}
        <WhatFollows layout={layout} />
      </div>
    </div>
  );
}

/** What stands where, in a sentence, and what may be done with it. */
function Headline({ layout }: { layout: OnThePage }): ReactElement {
  const { parts, proposed, stands, clashes, room, proposal } = layout;
  const { household } = useJob();
  const total = layout.runs.reduce((m, r) => m + cutM(r), 0);
  const missing = parts.filter((c) => !stands[c.component.id]);
  const wrong = clashes.filter((c) => c.weight === 'not').length;
  const next = parts.some((c) => stands[c.component.id]?.space === 'second');
  const where = next && room.second ? `in the cupboard and in ${room.second.words}` : 'in this cupboard';
  const tubes = `${formatNumber(total, 2)} m of tube`;
  const looking = missing.length > 0 && !proposal;
  const sentence = looking
    ? 'Looking for a place for everything.'
    : missing.length > 0
      ? `Not everything goes in: no place was found for ${missing.map((c) => c.component.slot).join(', ')}.`
      : wrong > 0
        ? `${wrong === 1 ? 'One thing is' : `${String(wrong)} things are`} in the way ${where}.`
        : `It stands ${where}: ${tubes}, nothing in the way.`;
  const fresh = proposed.size > 0;
  return (
    <>
      <p className="headline">{sentence}</p>
      <p className="layout-acts no-print">
        {fresh && (
          <Button
            size="xs"
            onClick={() => {
              layout.put(Object.fromEntries([...proposed].flatMap((id) => (stands[id] ? [[id, stands[id]]] : []))));
            }}
          >
            {proposed.size === parts.length ? 'Take this layout' : 'Take the rest as proposed'}
          </Button>
        )}
        {proposed.size < parts.length && (
          <Button
            size="xs"
            variant="default"
            onClick={() => {
              layout.put(Object.fromEntries(parts.map((c) => [c.component.id, null])));
            }}
          >
            Propose anew
          </Button>
        )}
        <Button size="xs" variant="default" disabled={!layout.undo} leftSection={<IconArrowBackUp size={14} />} onClick={() => layout.undo?.()}>
          Undo
        </Button>
        <Button size="xs" variant="default" disabled={!layout.redo} leftSection={<IconArrowForwardUp size={14} />} onClick={() => layout.redo?.()}>
          Redo
        </Button>
        <Button
          size="xs"
          variant="default"
          leftSection={<IconDownload size={14} />}
          onClick={() => {
            download('layout.svg', layoutSvg(layout.system, room, layout.laid, layout.runs, household.name), 'image/svg+xml');
          }}
        >
          Drawing
        </Button>
        <small>
          {fresh ? 'Katharos proposes it; it counts once it is taken. ' : ''}Dragged, moved by the arrow keys, turned by T, laid
          down by L. A tube pinned below is dragged by its ring; Delete lets it go.
        </small>
      </p>
    </>
  );
} // oxfmt-ignore

/** What the layout cannot know. */
function NotThere({ placed }: { placed: Readonly<Record<string, unknown>> }): ReactElement | null {
  const missing = [
    ...(placed.valve ? [] : ['the stop valve']),
    ...(placed.trap ? [] : ['the trap']),
  ];
  if (missing.length === 0) return null;
  return (
    <p className="note">
      Place {missing.join(' and ')} in Gauge’s cupboard: until then the tubes there are as long as is usual.
    </p>
  );
} // oxfmt-ignore

/** What is in the way of what, the worst first. */
function Clashes({ clashes, onSelect }: { clashes: readonly Clash[]; onSelect: (id: string) => void }): ReactElement | null {
  if (clashes.length === 0) return null;
  return (
    <ul className="clashes">
      {clashes.map((c) => (
        <li key={`${c.code}.${c.at}.${c.with ?? ''}`} data-weight={c.weight}>
          <button type="button" className="plain" onClick={() => { onSelect(c.at); }}>
            {c.text}
          </button>
        </li>
      ))}
    </ul>
  );
} // oxfmt-ignore

/** What would go where not everything finds a place. */
function CannotPlace({ layout }: { layout: OnThePage }): ReactElement | null {
  const { record, parts, rules } = useJob();
  const { system, room, stands, proposal } = layout;
  const stuck = proposal !== null && carriedIn(system).some((c) => !stands[c.component.id]);
  const would = useCore('wouldGo', stuck ? [houseKey(parts, rules, record.placed), system, room, record.known] : null);
  if (!stuck) return null;
  if (!would.value) return <p className="small">Looking for what would go.</p>;
  return would.value.length === 0 ? (
    <p className="caution">
      None found: neither a smaller tank nor a second place makes everything go in. Measure again, take out what stands
      there, or place it by hand; a layout by hand is taken as it is.
    </p>
  ) : (
    <ul className="would-go">
      {would.value.map((w) => (
        <li key={w.code}>{w.text}</li>
      ))}
    </ul>
  );
}
