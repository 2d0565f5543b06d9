/**
 * npm run bench: each figure beside its goal; with `-- core`, `-- calculators` or `-- page` those alone. Measured on this
 * machine, in one run; compare within one run only. The goals of what takes time hold at an ordinary pace: a fixed piece of
 * work is timed before and after each figure, and the figure is judged as it would be where that piece takes as long as it
 * ordinarily does.
 */
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { dayRows } from './benchMany.ts';
import { faultRows } from './benchFaults.ts';
import { layoutRows } from './benchLayouts.ts';
import { pageRows } from './benchPage.ts';
import { median, printTable, put, time } from './benchTable.ts';
import {
  bandsOf,
  buildSystem,
  choiceFor,
  CatalogueSchema,
  decide,
  engineOf,
  feedWaterAt,
  fitPermeability,
  HouseRulesSchema,
  simulateMonths,
  momentOf,
  monthsOf,
  monthTable,
  operatingMap,
  osmoticBarPerMgL,
  designInHouse,
  reopenShare,
  searchDesigns,
  siteFrom,
  sodiumChloride,
  solveElement,
  step,
  studyDesign,
  supplyOf,
  viewSystem,
  type Known,
} from '@katharos/core';

const ROOT = process.cwd();
const url = process.env.BENCH_DATABASE_URL;
if (!url) throw new Error('run this through `npm run bench`');

const catalogue = CatalogueSchema.parse(JSON.parse(readFileSync(join(ROOT, 'shelf/parts.json'), 'utf8')));
const rules = HouseRulesSchema.parse(JSON.parse(readFileSync(join(ROOT, 'shelf/house-rules.json'), 'utf8')));

function core(): void {
  const p = fitPermeability({
    permeateLDay: 284,
    rejection: 0.96,
    test: { pressureBar: 3.45, temperatureC: 25, tdsMgL: 500, recovery: 0.15 },
  });
  const k = osmoticBarPerMgL(sodiumChloride(500), 10);
  const solve = (i: number): unknown =>
    solveElement(p, {
      feedPressureBar: 3 + (i % 100) / 50,
      permeatePressureBar: (i % 7) / 5,
      temperatureC: 10,
      tdsMgL: 500,
      osmoticBarPerMgL: k,
      concentrateLDay: 450,
    });
  time(5000, solve);
  const t = performance.now();
  for (let i = 0; i < 30000; i++) solve(i);
  put('element solves', 30000 / ((performance.now() - t) / 1000), 'a second', { least: 20000 });
  const known = (i: number): Known => ({
    source: 'mains',
    feedTdsMgL: 320,
    hardnessMgL: 150,
    temperatureC: 14,
    coldestC: 8,
    staticPressureBar: 3.6,
    runningPressureBar: 2.4 + (i % 10) / 10,
    runningFlowLMin: 8,
    people: 4,
    socket: 'yes',
    metalAfter: 'no',
  });
  const input = (i: number) => ({ known: known(i), catalogue, rules });
  put('one recommendation over the whole shelf, first', median(time(1, (i) => decide(input(i)))), 'ms');
  put('one recommendation over the whole shelf', median(time(20, (i) => decide(input(i)))), 'ms', { most: 300 });
  const d = decide(input(5));
  const found = siteFrom(known(5), rules);
  if (d.kind !== 'recommendation' || !found.ok) throw new Error('the bench’s house is not sized');
  const design = d.chosen.design;
  const { site } = found;
  let looked = 0;
  const searches = time(10, () => {
    looked = searchDesigns(input(5), site).looked;
  });
  put(`${String(looked)} combinations over twelve months`, median(searches), 'ms', { most: 1000 });
  const studies = time(7, () => studyDesign(input(5), design, d.contenders));
  put('flip points of all readings, temperature curve', median(studies), 'ms', { most: 800 });
  put('500 uncertainty draws of the chosen system', median(time(7, () => bandsOf(input(5), design))), 'ms', {
    most: 500,
  });
  const plant = designInHouse(design, catalogue, site, 'today');
  const { tank } = plant;
  if (!tank) throw new Error('the bench’s house has a tank');
  const months = monthsOf(site.coldestC, site.warmestC).map((m) =>
    monthTable(
      operatingMap(plant.train, feedWaterAt(site, m.temperatureC)),
      tank,
      m.days,
      reopenShare(plant.train),
      plant.airBar,
      null,
    ),
  );
  const habits = { litresADay: site.litresADay, largestDrawL: site.largestDrawL };
  put('a year at minute steps', median(time(9, (i) => simulateMonths(months, habits, 0.5, i))), 'ms', { most: 100 });
  const built = buildSystem(choiceFor({ design }, catalogue), catalogue, site);
  const engine = engineOf(built, {
    supply: supplyOf(site, 'today'),
    water: feedWaterAt(site, site.todayC),
    airBar: site.airBar,
  });
  const hour = (): number => {
    let m = momentOf(engine);
    for (let s = 0; s < 3600; s++) m = step(engine, m, { outlets: s % 600 < 20 ? { tap: 1 } : {} }, 1);
    return m.tankL;
  };
  put('an hour at one-second steps', median(time(9, hour)), 'ms', { most: 150 });
  put('one system worked out, all six parts', median(time(10, () => viewSystem(input(5), { design }))), 'ms');
  put('peak memory of all this', process.resourceUsage().maxRSS / 1024, 'MB', { most: 300 });
  layoutRows(built);
  faultRows(built, input(5).known, input(5).rules);
  dayRows();
}

/** The calculators as a person calls them, with everything that starts before they answer. */
function calculators(): void {
  const npm = ['npm', 'run', '--silent', 'calc', '--'];
  const itself = [join(ROOT, 'cli/calc')];
  const ask = (name: string, input: unknown, [command = '', ...args]: readonly string[] = npm): number => {
    const began = performance.now();
    const r = spawnSync(command, [...args, name], {
      cwd: ROOT,
      input: JSON.stringify(input),
      encoding: 'utf8',
    });
    if (r.status !== 0) throw new Error(`${name}: ${r.stderr}`);
    return performance.now() - began;
  };
  const tank = { volumeL: 15.1, airChargeBar: 0.48, pressureBar: 2.76 };
  ask('tank', tank);
  put('calc tank, from start to answer', median([1, 2, 3].map(() => ask('tank', tank))), 'ms', { most: 1000 });
  const file: unknown = JSON.parse(readFileSync(join(ROOT, 'docs/examples/02-ordinary.json'), 'utf8'));
  const size = (by: readonly string[]): number => median([1, 2, 3].map(() => ask('size', file, by)));
  put('calc size, from its own start to answer', size(itself), 'ms', { most: 2000 });
  put('calc size, through npm', size(npm), 'ms', { most: 2000 });
}

const parts = { core, calculators, page: () => pageRows(url) };
const asked = process.argv.slice(2);
for (const [name, part] of Object.entries(parts)) if (asked.length === 0 || asked.includes(name)) await part();
printTable();
