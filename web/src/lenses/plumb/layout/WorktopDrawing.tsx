import { formatNumber, gaugeField, partIn, worktopOf, type ChoiceField } from '@katharos/core';
import { useElementSize } from '@mantine/hooks';
import type { ReactElement } from 'react';
import { useJob } from '../../../job/useJob.ts';
import type { OnThePage } from '../../../job/layout/useLayout.ts';

/** A drawing is no wider than this, px. */
const MOST_PX = 460;

/** The worktop from above: basin, the tap's hole and how far its spout reaches, what is right below. */
export function WorktopDrawing({ layout }: { layout: OnThePage }): ReactElement | null {
  const { record } = useJob();
  const { ref, width } = useElementSize<HTMLDivElement>();
  const { room, system } = layout;
  const tap = partIn(system, 'tap');
  if (!tap) return null;
  const top = worktopOf(system, room, layout.laid);
  if (!top)
    return (
      <p className="small">
        Place the tap hole, and the basin, in Gauge’s cupboard: its tube is then cut by the way there, and the worktop is
        drawn here.
      </p>
    );
  const { hole, basin, toBasin, intoMm } = top;
  const scale = Math.min(MOST_PX, Math.max(120, width)) / room.size.widthMm;
  const px = (mm: number): number => mm * scale;
  const material = record.known.worktop;
  const words = typeof material === 'string' ? (gaugeField('worktop') as ChoiceField).options[material] : undefined;
  const [w, d] = [px(room.size.widthMm), px(room.size.depthMm)];
  return (
    <figure className="worktop" ref={ref}>
      <svg
        width={w + 2}
        height={d + 2}
        role="img"
        aria-label={`The worktop from above: a hole of ${formatNumber(hole.diameterMm, 3)} mm, ${String(Math.round(hole.x))} mm from the left, ${String(Math.round(hole.y))} mm from the back`}
      >
        <rect className="cupboard-wall" x={1} y={1} width={w} height={d} />
        {top.below.map((b) => (
          <rect
            key={b.what}
            className="worktop-below"
            x={1 + px(b.box.x0)}
            y={1 + px(b.box.y0)}
            width={px(b.box.x1 - b.box.x0)}
            height={px(b.box.y1 - b.box.y0)}
          />
        ))}
        {basin && (
          <rect
            className="worktop-basin"
            x={1 + px(basin.x0)}
            y={1 + px(basin.y0)}
            width={px(basin.x1 - basin.x0)}
            height={px(basin.y1 - basin.y0)}
            rx={10}
          />
        )}
        {toBasin && <path className="worktop-reach" d={`M${String(1 + px(hole.x))} ${String(1 + px(hole.y))}L${String(1 + px(toBasin.x))} ${String(1 + px(toBasin.y))}`} />}
        <circle className="worktop-hole" cx={1 + px(hole.x)} cy={1 + px(hole.y)} r={Math.max(3, px(hole.diameterMm / 2))} />
      </svg>
      <figcaption className="small">
        worktop from above{words === undefined ? '' : `, ${words}`}: hole {formatNumber(hole.diameterMm, 3)} mm
        {intoMm !== null && intoMm > 0 ? `, the spout reaches ${String(Math.round(intoMm))} mm into the basin` : ''}
        {basin ? '' : '; the basin is not placed'}
        {tap.airGap ? '; three tubes come through it: product, concentrate up, concentrate down' : ''}
        {top.below.length > 0 ? `. Right below: ${top.below.map((b) => b.what).join(', ')}.` : '.'}
      </figcaption>
      {top.problems.map((p) => (
        <p key={p} className="caution">
          {p}
        </p>
      ))}
    </figure>
  );
} // oxfmt-ignore
