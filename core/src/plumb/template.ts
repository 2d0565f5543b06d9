import type { Hole } from './holes.ts';

const MARGIN_MM = 15;
const SCALE_MM = 100;
const CROSS_MM = 8;

/** A drilling template, one to one: its holes with their middles, a scale on both axes to check the print by. */
export interface Template {
  /** of the drawing, mm: it fits on a sheet of 210 by 297 */
  readonly widthMm: number;
  readonly heightMm: number;
  /** as a document of its own, sized in millimetres */
  readonly svg: string;
}

const line = (x1: number, y1: number, x2: number, y2: number): string =>
  `<path d="M${String(x1)} ${String(y1)}L${String(x2)} ${String(y2)}"/>`;
const words = (x: number, y: number, text: string, more = ''): string =>
  `<text x="${String(x)}" y="${String(y)}" ${more}>${text.replaceAll('&', '&amp;').replaceAll('<', '&lt;')}</text>`;

/** A scale of 100 mm with a mark every 10, along or down. */
function scale(x: number, y: number, down: boolean): string {
  const marks = Array.from({ length: SCALE_MM / 10 + 1 }, (_, i) => {
    const long = i % 5 === 0 ? 5 : 3;
    return down ? line(x, y + 10 * i, x + long, y + 10 * i) : line(x + 10 * i, y, x + 10 * i, y - long);
  });
  const label = down
    ? words(x + 7, y + SCALE_MM / 2, '100 mm')
    : words(x + SCALE_MM / 2, y - 7, '100 mm', 'text-anchor="middle"');
  return line(x, y, down ? x : x + SCALE_MM, down ? y + SCALE_MM : y) + marks.join('') + label;
}

/** One hole, with its middle crossed. */
function hole(h: Hole, x: number, y: number): string {
  const r = h.diameterMm / 2;
  const reach = r + CROSS_MM;
  const pilot = h.pilotMm === null ? '' : `<circle cx="${String(x)}" cy="${String(y)}" r="${String(h.pilotMm / 2)}"/>`;
  return [
    `<circle cx="${String(x)}" cy="${String(y)}" r="${String(r)}"/>`,
    pilot,
    line(x - reach, y, x + reach, y),
    line(x, y - reach, x, y + reach),
    words(x + reach + 3, y - 2, `${h.where}: ${String(h.diameterMm)} mm`),
    words(x + reach + 3, y + 3, h.pilotMm === null ? h.bit : `${h.bit}; ${String(h.pilotMm)} mm pilot first`),
  ].join('');
}

/** The template of a job's holes, to be laid on the worktop and the pipe; the tubes' way through a panel is marked by hand. @param title names the job on the sheet */
export function templateOf(holes: readonly Hole[], title: string): Template {
  const drawn = holes.filter((h) => h.tool !== 'none' && h.key !== 'way');
  const widthMm = 180;
  let y = 52;
  const rows = drawn.map((h) => {
    const reach = h.diameterMm / 2 + CROSS_MM;
    y += reach + 6;
    const row = hole(h, 50, y);
    y += reach;
    return row;
  });
  const heightMm = Math.max(y + 20, 52 + SCALE_MM + 10);
  const body = [
    words(0, 6, title, 'font-size="5" font-weight="600"'),
    words(0, 13, 'Print at 100 %: no scaling, no fitting to the page.'),
    words(0, 18, 'Both scales must measure 100 mm before the sheet is used.'),
    scale(MARGIN_MM, 34, false),
    scale(MARGIN_MM, 44, true),
    ...rows,
  ].join('');
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${String(widthMm)}mm" height="${String(heightMm)}mm" viewBox="0 0 ${String(widthMm)} ${String(heightMm)}" font-family="sans-serif" font-size="3.6"><g fill="none" stroke="black" stroke-width="0.25">${body.replaceAll('<text ', '<text fill="black" stroke="none" ')}</g></svg>`;
  return { widthMm, heightMm, svg };
} // oxfmt-ignore
