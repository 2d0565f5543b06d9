import { wasteOf, type PipeStretch, type Waste } from '@katharos/core';
import type { ReactElement } from 'react';
import { useJob } from '../../../job/useJob.ts';
import type { OnThePage } from '../../../job/layout/useLayout.ts';

const WIDE_PX = 460;
const HIGH_PX = 240;
/** Where the pipe stands in the drawing, and how broad it is, px. */
const PIPE_PX = 130;
const BORE_PX = 26;
const HALF_PX = BORE_PX / 2;
/** Where its words begin, px. */
const WORDS_PX = 222;

/** The waste from the side: the trap and its water, and where on the pipe the clamp may come. */
export function WasteDrawing({ layout }: { layout: OnThePage }): ReactElement | null {
  const { view, rules } = useJob();
  const waste = view && wasteOf(layout.system, layout.room, view.site, rules);
  if (!waste) return null;
  const high = layout.room.size.heightMm;
  const y = (mm: number): number => HIGH_PX - 10 - ((HIGH_PX - 20) * mm) / high;
  const { trap, disposalMm } = waste;
  return (
    <figure className="waste">
      <svg viewBox={`0 0 ${String(WIDE_PX)} ${String(HIGH_PX)}`} role="img" aria-label={spoken(waste)}>
        <path className="cupboard-wall" d={`M4 ${String(y(0))}H${String(WIDE_PX - 4)}`} />
        <Pipe waste={waste} y={y} />
        <Trap y={y} trap={trap} waterMm={waste.waterMm} />
        {disposalMm !== null && (
          <g>
            <path className="waste-pipe" d={`M8 ${String(y(disposalMm) - 8)}H${String(PIPE_PX - HALF_PX)}M8 ${String(y(disposalMm) + 8)}H${String(PIPE_PX - HALF_PX)}`} />
            <text x={8} y={y(disposalMm) - 14} className="waste-words">disposal unit</text>
          </g>
        )}
        {waste.forbidden.filter((f) => f.toMm - f.fromMm > 1).map((f) => (
          <g key={f.why}>
            <rect className="waste-forbidden" x={PIPE_PX - HALF_PX - 12} y={y(f.toMm)} width={BORE_PX + 24} height={y(f.fromMm) - y(f.toMm)} />
            <text x={WORDS_PX} y={y((f.fromMm + f.toMm) / 2) + 4} className="waste-words">not {f.why}</text>
          </g>
        ))}
        <Allowed waste={waste} y={y} />
      </svg>
      <figcaption className="small">waste from the side. {waste.words}</figcaption>
    </figure>
  );
} // oxfmt-ignore

/** The pipe between basin and trap: down to it, or along to it. */
function Pipe({ waste: { pipe, run, trap }, y }: { waste: Waste; y: (mm: number) => number }): ReactElement | null {
  if (!pipe) return null;
  const [left, right] = [PIPE_PX - HALF_PX, PIPE_PX + HALF_PX];
  return run === 'horizontal' ? (
    <path className="waste-pipe" d={`M30 4V${String(y(pipe.fromMm))}H${String(left)}M${String(30 + BORE_PX)} 4V${String(y(pipe.toMm))}H${String(right)}V${String(y(trap.toMm))}`} />
  ) : (
    <path className="waste-pipe" d={`M${String(left)} ${String(y(pipe.toMm))}V${String(y(trap.toMm))}M${String(right)} ${String(y(pipe.toMm))}V${String(y(trap.toMm))}`} />
  );
} // oxfmt-ignore

/** Where the tube comes in. */
function Allowed({ waste: { allowed, holeMm, run }, y }: { waste: Waste; y: (mm: number) => number }): ReactElement | null {
  if (!allowed) return null;
  const [top, low] = [y(allowed.toMm), y(allowed.fromMm)];
  const flat = run === 'horizontal';
  const at = y(holeMm ?? (allowed.fromMm + allowed.toMm) / 2);
  const words = holeMm === null ? 'the spigot' : `here, about ${String(holeMm)} mm above the floor`;
  return (
    <g>
      <rect className="waste-allowed" x={flat ? 64 : PIPE_PX - HALF_PX} y={top} width={flat ? PIPE_PX - HALF_PX - 70 : BORE_PX} height={low - top} />
      {holeMm !== null && <path className="waste-tube" d={flat ? `M${String(WORDS_PX - 6)} ${String(top - 26)}H130L84 ${String(at)}` : `M${String(WORDS_PX - 6)} ${String(at)}H${String(PIPE_PX)}`} />}
      <text x={WORDS_PX} y={(flat && holeMm !== null ? top - 26 : at) + 4} className="waste-words">{words}</text>
    </g>
  );
} // oxfmt-ignore

/** A trap with water standing in it, as it is cut. */
function Trap({ y, trap, waterMm }: { y: (mm: number) => number; trap: PipeStretch; waterMm: number }): ReactElement {
  const half = HALF_PX;
  const [top, low, water] = [y(trap.toMm), y(trap.fromMm), y(waterMm)];
  const right = PIPE_PX + 62;
  const bend = `M${String(PIPE_PX - half)} ${String(top)}V${String(low - 8)}Q${String(PIPE_PX)} ${String(low + 8)} ${String(right - half)} ${String(low - 8)}V${String(water)}H${String(right + 26)}`;
  const inner = `M${String(PIPE_PX + half)} ${String(top)}V${String(low - 26)}Q${String(PIPE_PX + half + 8)} ${String(low - 16)} ${String(right - 2 * half)} ${String(low - 26)}V${String(water - BORE_PX)}H${String(right + 26)}`;
  return (
    <>
      <path className="waste-water" d={`M${String(PIPE_PX - half)} ${String(water)}V${String(low - 8)}Q${String(PIPE_PX)} ${String(low + 8)} ${String(right - half)} ${String(low - 8)}V${String(water)}H${String(right - 2 * half)}V${String(low - 26)}Q${String(PIPE_PX + half + 8)} ${String(low - 16)} ${String(PIPE_PX + half)} ${String(low - 26)}V${String(water)}Z`} />
      <path className="waste-pipe" d={bend} />
      <path className="waste-pipe" d={inner} />
    </>
  );
} // oxfmt-ignore

const spoken = (w: Waste): string =>
  `The waste from the side: water stands ${String(Math.round(w.waterMm))} mm above the floor in the trap. ${w.words}`;
