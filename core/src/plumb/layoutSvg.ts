import { tubesOf, type System } from '../system/system.ts';
import type { Branch } from '../parts/kinds.ts';
import type { Space } from '../gauge/place.ts';
import type { Laid } from './place/clashes.ts';
import type { Box, Point } from './place/pose.ts';
import { sizeOf, type Room } from './place/room.ts';
import type { Run } from './route/runs.ts';

const GAP_MM = 120;
const MARGIN_MM = 60;
/** A tube's role is told by its line. */
const DASHES: Readonly<Record<Branch, string>> = {
  feed: '',
  product: '',
  tank: '10 14',
  concentrate: '36 18',
  fridge: '40 14 10 14',
};

const escaped = (s: string): string => s.replaceAll('&', '&amp;').replaceAll('<', '&lt;');
const n = (v: number): string => String(Math.round(10 * v) / 10);

/**
 * A layout as a drawing of its own, a unit a millimetre: each space from the front and from above, what stands there dashed,
 * the parts by their left edge and height, the tubes by their number and line.
 */
export function layoutSvg(
  system: System,
  room: Room,
  laid: readonly Laid[],
  runs: readonly Run[],
  title: string,
): string {
  const spaces: Space[] = laid.some((l) => l.pose.space === 'second') ? ['cupboard', 'second'] : ['cupboard'];
  const out: string[] = [];
  let y = MARGIN_MM + 40;
  let width = 0;
  for (const space of spaces) {
    const size = sizeOf(room, space);
    if (!size) continue;
    for (const view of ['front', 'plan'] as const) {
      const high = view === 'front' ? size.heightMm : size.depthMm;
      const at = (p: Point): [number, number] => [MARGIN_MM + p.x, y + (view === 'front' ? size.heightMm - p.z : p.y)];
      const rect = (b: Box, more: string): string => {
        const [x0, y0] = at({ x: b.x0, y: b.y0, z: b.z1 });
        const h = view === 'front' ? b.z1 - b.z0 : b.y1 - b.y0;
        return `<rect x="${n(x0)}" y="${n(y0)}" width="${n(b.x1 - b.x0)}" height="${n(h)}" ${more}/>`;
      };
      const named = (b: Box, words: string): string => {
        const [x, top] = at({ x: (b.x0 + b.x1) / 2, y: (b.y0 + b.y1) / 2, z: (b.z0 + b.z1) / 2 });
        return `<text x="${n(x)}" y="${n(top)}" text-anchor="middle">${escaped(words)}</text>`;
      };
      out.push(
        `<rect x="${String(MARGIN_MM)}" y="${n(y)}" width="${n(size.widthMm)}" height="${n(high)}" stroke-width="4"/>`,
        `<text x="${String(MARGIN_MM)}" y="${n(y - 8)}">${view === 'front' ? 'from the front' : 'from above, back wall on top'}, ${n(size.widthMm)} × ${n(high)} mm</text>`,
        ...(space === 'cupboard' ? room.obstacles : []).flatMap((o) => [
          rect(o.box, 'stroke-dasharray="12 8"'),
          named(o.box, o.label),
        ]),
        ...laid
          .filter((l) => (l.pose.space ?? 'cupboard') === space)
          .flatMap((l) => [
            rect(l.box, 'stroke-width="3"'),
            named(l.box, `${l.carried.component.slot} (${n(l.box.x0)} / ${n(view === 'front' ? l.box.z0 : l.box.y0)})`),
          ]),
        ...tubeLines(system, runs, space, at),
      );
      y += high + GAP_MM;
      width = Math.max(width, size.widthMm);
    }
  }
  const [w, h] = [width + 2 * MARGIN_MM, y];
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${n(w)} ${n(h)}" width="${n(w)}" height="${n(h)}" font-family="sans-serif" font-size="16"><text x="${String(MARGIN_MM)}" y="34" font-size="24">${escaped(title)}</text><g fill="none" stroke="black" stroke-width="2">${out.join('').replaceAll('<text ', '<text fill="black" stroke="none" ')}</g></svg>`;
}

function tubeLines(system: System, runs: readonly Run[], space: Space, at: (p: Point) => [number, number]): string[] {
  const tubes = new Map(tubesOf(system).map((t) => [t.id, t]));
  return runs.flatMap((r) => {
    const tube = tubes.get(r.link);
    return r.ways.flatMap((w) => {
      if (!tube || w.space !== space) return [];
      const points = w.way.map(at);
      const [x, y] = points[Math.floor(points.length / 2)] ?? [0, 0];
      return [
        `<polyline points="${points.map(([px, py]) => `${n(px)},${n(py)}`).join(' ')}" stroke-width="${tube.branch === 'feed' ? '6' : '4'}" stroke-dasharray="${DASHES[tube.branch]}"/>`,
        `<text x="${n(x + 6)}" y="${n(y - 6)}" font-weight="bold">${String(tube.number)}</text>`,
      ];
    });
  });
}
