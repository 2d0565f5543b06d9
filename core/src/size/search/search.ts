import type { Site } from '../../gauge/site.ts';
import type { Design } from '../../system/design.ts';
import type { ElementOutput } from '../../membrane/element.ts';
import { COARSE_MAP } from '../../run/fill.ts';
import type { SizeInput } from '../kinds/candidates.ts';
import { evaluateWithin, sharedOf, type Evaluation } from '../judge/evaluate.ts';
import type { FailureCode } from '../judge/failures.ts';
import { designsOf, familiesOf, leastScore, type Core, type Family, type OpenedCore } from '../kinds/families.ts';

/** What a search of the catalogue found. */
export interface Search {
  /** best first; the first is the best of the whole catalogue */
  readonly working: readonly Evaluation[];
  readonly failed: readonly Evaluation[];
  /** first text of each reason that needed no full evaluation */
  readonly early: ReadonlyMap<FailureCode, string>;
  /** combinations of parts that were looked at */
  readonly looked: number;
  /** of these, how many were worked out over the year */
  readonly worked: number;
  /** works out what else does with no more than so many points; what was found before is not found again */
  readonly widen: (points: number) => readonly Evaluation[];
}

const { min } = Math;

/** Points beyond the best up to which families are worked out, so that the runners-up are the true ones. */
const MARGIN = 3;
/** The same for the first families and for the best of their kind: what is better at something may stand further behind. */
const WIDE = 6;
/** Families worked out at the least, and of each kind of drive and figure. */
const LEAST_FAMILIES = 8;
const OF_EACH = 2;

/** What a family may be worked out for though its points are behind: being best at something a household can feel. */
const STRENGTHS: readonly ((f: Family) => number)[] = [
  (f) => -f.warm.recovery,
  (f) => -f.open.permeateLDay,
  (f) => f.open.permeateTdsMgL,
];

const kindOf = (f: Family): string => {
  const d = f.cores[0];
  return [f.direct, d?.pumpId, d?.permeatePumpId, d?.elementCount === 1].join(' ');
};

/**
 * Searches the whole catalogue: every element, one to three of it, restrictor, drive and tank, and each without a tank.
 * Families are taken in the order of the least points they can have and worked out over the year until no other can come
 * within a margin of the best; besides, those strongest at one figure, and the best of every drive, for the runners-up.
 * @param wantNearest whether what comes nearest is worked out too where nothing does
 */
export function searchDesigns(input: SizeInput, site: Site, wantNearest = true): Search {
  const { catalogue, rules } = input;
  const { cores, early, looked, leastOf, open } = familiesOf(input, site);
  /** @param limit points above which a year need not be worked out, asked anew for each design with its family's best so far */
  const run = (
    designs: readonly Design[],
    warm?: ElementOutput,
    limit: (own: number) => number = () => Infinity,
  ): Evaluation[] => {
    const first = designs[0];
    if (!first) return [];
    const shared = first.tankId === null ? undefined : sharedOf(first, catalogue, site, COARSE_MAP, warm);
    let own = Infinity;
    return designs.flatMap((d) => {
      const e = evaluateWithin(d, catalogue, site, rules, shared, limit(own));
      if (e?.failures.length === 0) {
        own = min(own, e.score);
        best = min(best, e.score);
      }
      return e ?? [];
    });
  };
  const done = new Set<Family>();
  const aside: OpenedCore['aside'][number][] = [];
  const nearest: NonNullable<OpenedCore['nearestDirect']>[] = [];
  let best = Infinity;
  let all: Evaluation[] = [];
  const bestOfKind = new Map<string, number>();
  /** @param far whether its own best is wanted, however far it stands behind the best of all */
  const take = ({ family }: Queued, far: boolean): void => {
    if (done.has(family)) return;
    done.add(family);
    const kind = kindOf(family);
    const limit = (own: number): number => (far ? min(own, bestOfKind.get(kind) ?? Infinity) + WIDE : best + MARGIN);
    // a permeate pump's own tubes come after the membrane: its open flow is worked out by itself
    const warm = family.cores[0]?.permeatePumpId == null ? family.warm : undefined;
    const found = run(designsOf(family), warm, limit);
    all.push(...found);
    for (const e of found)
      if (e.failures.length === 0) bestOfKind.set(kind, min(e.score, bestOfKind.get(kind) ?? Infinity));
  };
  /** Opens cores and works their families out, the least points first, until none can come near the best. */
  const work = (some: readonly Core[]): Queued[] => {
    const opened = some.map(open);
    for (const o of opened) {
      aside.push(...o.aside);
      if (o.nearestDirect) nearest.push(o.nearestDirect);
    }
    const queue = opened
      .flatMap((o) => o.hopeful)
      .map((family) => {
        return { family, least: leastScore(family, catalogue, site, rules) };
      })
      .sort((a, b) => a.least - b.least || idsOf(a.family).localeCompare(idsOf(b.family)));
    for (const queued of queue) {
      if (queued.least > best + MARGIN && done.size >= LEAST_FAMILIES) break;
      take(queued, done.size < LEAST_FAMILIES);
    }
    return queue;
  };
  const isSingle = (c: Core): boolean => (c.fitting[0] ?? c.direct)?.elementCount === 1;
  const queue = work(cores.filter(isSingle));
  // further elements cost points for certain: most need not even be opened
  queue.push(...work(cores.filter((c) => !isSingle(c) && leastOf(c) <= best + MARGIN)));
  const asked = new Map<string, number>();
  for (const queued of [...queue].sort((a, b) => a.least - b.least)) {
    const kind = kindOf(queued.family);
    const n = asked.get(kind) ?? 0;
    // of a drive the best is wanted: a second family only where it may be better than the first
    if (n >= OF_EACH || queued.least > (bestOfKind.get(kind) ?? Infinity)) continue;
    asked.set(kind, n + 1);
    take(queued, true);
  }
  for (const queued of strongest(queue)) take(queued, true);
  // where no tankless design does, the one that gives most tells why
  const closest = nearest.sort((a, b) => b.openLDay - a.openLDay)[0];
  if (closest && !all.some((e) => e.worst.direct && e.failures.length === 0)) all.push(...run([closest.design]));
  const order = (a: Evaluation, b: Evaluation): number =>
    a.score - b.score || JSON.stringify(a.design).localeCompare(JSON.stringify(b.design));
  const working = all.filter((e) => e.failures.length === 0).sort(order);
  if (working.length === 0 && wantNearest) {
    // one element and the plainest drives come nearest or tell best why not
    for (const family of aside) if (family.cores[0]?.elementCount === 1) all.push(...run(designsOf(family)));
  }
  all = all.filter((e) => e.failures.length > 0);
  // what differs by less than a drop is as near
  const drops = (e: Evaluation): number => Math.round(1e4 * e.worst.litresADay);
  const failed = all.sort((a, b) => a.failures.length - b.failures.length || drops(b) - drops(a) || order(a, b));
  const known = new Set(working.map((e) => JSON.stringify(e.design)));
  const widen = (points: number): Evaluation[] =>
    queue
      .filter((q) => q.least <= points)
      .flatMap(({ family }) => run(designsOf(family), undefined, () => points))
      .filter((e) => e.failures.length === 0 && !known.has(JSON.stringify(e.design)));
  return { working, failed, early, looked, worked: done.size, widen };
}

interface Queued {
  readonly family: Family;
  readonly least: number;
}

/** The strongest at each figure, whatever their points. */
function strongest(queue: readonly Queued[]): Queued[] {
  return STRENGTHS.flatMap((strength) =>
    [...queue].sort((a, b) => strength(a.family) - strength(b.family) || a.least - b.least).slice(0, OF_EACH),
  );
}

function idsOf(f: Family): string {
  const d = f.cores[0];
  return d ? [d.elementId, d.elementCount, f.restrictorId, d.pumpId, d.permeatePumpId, d.tankId].join(' ') : '';
}
