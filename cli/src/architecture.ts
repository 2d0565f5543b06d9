/**
 * The picture of docs/architecture.md, drawn from the code: which room imports which, and a system as the graph it is.
 * `npm run architecture` writes it; a test says when it is out of date.
 */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  buildSystem,
  choiceFor,
  decide,
  jointId,
  kindRow,
  pathsOf,
  proposalOf,
  siteFrom,
  type Known,
  type Step,
  type System,
} from '@katharos/core';
import { loadShelf } from '@katharos/shelf';

/** Rooms in the order imports run: what stands above knows only what stands further up. */
const ROOMS = [
  'core/quantity', 'core/water', 'core/membrane', 'core/hydraulics', 'core/treatment', 'core/demand', 'core/words', 'core/parts', 'core/rules',
  'core/gauge', 'core/system', 'core/run', 'core/plumb', 'core/size', 'core/prove', 'core/facts', 'core/flush', 'core/keep', 'core/record',
  'core/calc', 'contract', 'demo', 'server', 'cli', 'web/ui', 'web/boot', 'web/data', 'web/job', 'web/line', 'web/lenses',
  'web/firm', 'web/app',
] as const; // oxfmt-ignore

/** What a file needs to be read at all; what is fetched when it is first opened is not among it. */
const IMPORT = /(?:import|export)[^'"]*?from '([^']+)'/g;

/** The room a source file stands in; undefined for what stands in none. */
function roomOf(path: string): string | undefined {
  return ROOMS.find((r) => {
    const [pack = '', folder] = r.split('/');
    return path.startsWith(folder === undefined ? `${pack}/src/` : `${pack}/src/${folder}/`);
  });
}

/** Which room imports which, from the sources; tests left out. @param root the project's folder */
export function importsOf(root: string): Map<string, Set<string>> {
  const out = new Map<string, Set<string>>(ROOMS.map((r) => [r, new Set<string>()]));
  for (const pack of ['core', 'contract', 'server', 'cli', 'demo', 'web'])
    for (const file of readdirSync(join(root, pack, 'src'), { recursive: true, encoding: 'utf8' })) {
      const path = `${pack}/src/${file.replaceAll('\\', '/')}`;
      const from = /\.tsx?$/.test(path) && !/\.test\.|\/testing\//.test(path) ? roomOf(path) : undefined;
      if (from === undefined) continue;
      for (const [, named = ''] of readFileSync(join(root, path), 'utf8').matchAll(IMPORT)) {
        const to = target(path, named);
        if (to !== undefined && to !== from) out.get(from)?.add(to);
      }
    }
  return out;
}

/** The room an import leads to. What takes the core by its name knows all of it: told as its record, where it ends. */
function target(path: string, named: string): string | undefined {
  if (named === '@katharos/core') return 'core/record';
  const other = /^@katharos\/(contract|demo)$/.exec(named);
  if (other) return other[1];
  if (!named.startsWith('.')) return undefined;
  const parts = path.split('/').slice(0, -1);
  for (const step of named.split('/'))
    if (step === '..') parts.pop();
    else if (step !== '.') parts.push(step);
  return roomOf(parts.join('/'));
}

const esc = (s: string): string => s.replaceAll('&', '&amp;').replaceAll('<', '&lt;');
const text = (x: number, y: number, s: string, more = ''): string => `<text x="${String(x)}" y="${String(y)}" ${more}>${esc(s)}</text>`; // oxfmt-ignore
const line = (x1: number, y1: number, x2: number, y2: number, more = ''): string => `<line x1="${String(x1)}" y1="${String(y1)}" x2="${String(x2)}" y2="${String(y2)}" ${more}/>`; // oxfmt-ignore

/** A dot where the room of a row imports that of a column: all of them below the diagonal. */
function matrix(imports: ReadonlyMap<string, ReadonlySet<string>>, left: number, top: number): string[] {
  const step = 20;
  const out: string[] = [];
  ROOMS.forEach((row, i) => {
    const y = top + i * step;
    out.push(text(left - 8, y + 14, row, 'text-anchor="end"'));
    out.push(line(left, y, left + i * step, y, 'class="hair"'));
    out.push(`<rect x="${String(left + i * step)}" y="${String(y)}" width="${String(step)}" height="${String(step)}" class="self"/>`); // oxfmt-ignore
    out.push(text(left + i * step + step + 6, y + 14, row.split('/')[1] ?? row, 'class="col"'));
    ROOMS.forEach((column, j) => {
      if (!imports.get(row)?.has(column)) return;
      const wrong = j > i ? ' class="wrong"' : '';
      out.push(`<circle cx="${String(left + j * step + step / 2)}" cy="${String(y + step / 2)}" r="4.5"${wrong}/>`);
    });
  });
  return out;
}

/** A house that has a bit of everything, so that its system shows every path. */
const HOUSE: Known = {
  source: 'mains', feedTdsMgL: 420, hardnessMgL: 120, temperatureC: 12, staticPressureBar: 4, people: 3, socket: 'yes',
  fridge: 'yes', fridgeMinBar: 1, dispenser: 'yes', metalAfter: 'copper', highestPressureBar: 7,
}; // oxfmt-ignore

/** A system built from the shelf for that house. @throws Error where the shelf no longer does there */
export function drawnSystem(root: string): System {
  const { parts: catalogue, rules } = loadShelf(join(root, 'shelf'));
  const proposal = proposalOf(decide({ known: HOUSE, catalogue, rules }));
  const site = siteFrom(HOUSE, rules);
  if (!proposal || !site.ok) throw new Error('the house of the picture gets no system');
  return buildSystem(choiceFor(proposal, catalogue), catalogue, site.site);
}

/** The system's paths as the solver walks them: a row for each, components by their ids, each link by the port it leaves. */
function graph(system: System, left: number, top: number): string[] {
  const paths = pathsOf(system);
  const rows: readonly (readonly [string, readonly Step[]])[] = [
    ['feed', paths.feed],
    ['permeate', paths.permeate],
    ['storage', paths.storage],
    ['trunk', paths.trunk],
    ...paths.outlets.map((way): [string, readonly Step[]] => ['outlet', way]),
    ['concentrate', paths.concentrate],
  ];
  return rows.flatMap(([name, steps], r) => {
    const y = top + r * 52;
    const out = [text(left - 12, y + 19, name, 'text-anchor="end" class="path"')];
    const width = 88;
    steps.forEach(({ link, component }, i) => {
      const x = left + i * (width + 26);
      const from = link && i === 0 ? `${jointId(link.from)} →` : '';
      if (from !== '') out.push(text(x, y - 5, from, 'class="port"'));
      if (i > 0) out.push(line(x - 26, y + 14, x, y + 14, link?.tube ? 'class="tube"' : 'class="screwed"'));
      out.push(`<rect x="${String(x)}" y="${String(y)}" width="${String(width)}" height="28" rx="3" class="thing" data-work="${kindRow(component.kind).work ?? ''}"/>`); // oxfmt-ignore
      out.push(text(x + width / 2, y + 18, component.id, 'text-anchor="middle"'));
    });
    return out;
  });
}

const STYLE = `text{font:11.5px 'IBM Plex Sans',sans-serif;fill:#15252b} .col,.port,.path{fill:#5a6a6f} .port{font-size:10px}
h{font-weight:600} circle{fill:#15252b} circle.wrong{fill:#b23a24} .hair{stroke:#dfe4e4} .self{fill:#c5dcdd}
.thing{fill:#fff;stroke:#15252b} .tube{stroke:#2a7f86;stroke-width:3} .screwed{stroke:#15252b;stroke-width:1.5;stroke-dasharray:2 2}
.head{font-size:15px;font-weight:600}`;

/** The whole picture as SVG. @param root the project's folder */
export function architecturePicture(root: string): string {
  const width = 1280;
  const first = 64;
  const second = first + ROOMS.length * 20 + 90;
  const height = second + 9 * 52;
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${String(width)}" height="${String(height)}" viewBox="0 0 ${String(width)} ${String(height)}" role="img">`,
    `<style>${STYLE}</style>`,
    `<rect width="100%" height="100%" fill="#f8fafa"/>`,
    text(24, 32, 'Imports run one way: a dot where the room of the row imports the room of the column', 'class="head"'),
    ...matrix(importsOf(root), 150, first),
    text(24, second - 34, 'One system: components with lasting ids, joined port to port; its paths as every solver, list and drawing walks them', 'class="head"'),
    ...graph(drawnSystem(root), 120, second),
    '</svg>',
    '',
  ].join('\n'); // oxfmt-ignore
}
