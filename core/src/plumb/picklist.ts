import type { Part } from '../parts/catalogue.ts';
import { kindRow } from '../parts/kinds.ts';
import type { HouseRules } from '../rules/rules.ts';
import { alongTheWater, jointsOf, partIn, tubesOf, type System } from '../system/system.ts';

/** One thing to load into the van. */
export interface PickItem {
  readonly key: string;
  readonly name: string;
  readonly amount: string;
  readonly note: string;
}

/** Everything that goes into the van, with counts and lengths, so that nothing is fetched twice. */
export function pickList(system: System, rules: HouseRules): PickItem[] {
  const items: PickItem[] = [];
  const counts = new Map<string, { readonly part: Part; n: number }>();
  const count = (part: Part | null | undefined): void => {
    if (!part) return;
    const there = counts.get(part.id);
    if (there) there.n++;
    else counts.set(part.id, { part, n: 1 });
  };
  const standing = system.components.filter((c) => kindRow(c.kind).chain === 'stands');
  for (const c of alongTheWater(system)) count(c.part);
  for (const c of system.components) count(c.housing);
  for (const c of standing) count(c.part);
  for (const [id, { part, n }] of counts)
    items.push({ key: id, name: part.name, amount: String(n), note: part.fitting ?? '' });
  if (partIn(system, 'pump'))
    items.push({
      key: 'pump-electrics',
      name: 'Transformer, low-pressure switch, pressure switch',
      amount: '1 set',
      note: 'Transformer off the floor, on a protected socket.',
    });
  const tubes = tubesOf(system);
  const byTube = new Map<string, number>();
  for (const t of tubes) byTube.set(t.part.id, (byTube.get(t.part.id) ?? 0) + t.lengthM);
  for (const [id, metres] of byTube) {
    const cuts = tubes.filter((t) => t.part.id === id);
    items.push({
      key: id,
      name: cuts[0]?.part.name ?? id,
      amount: `${(Math.ceil(metres * 1.1 * 2) / 2).toFixed(1)} m`,
      note: `${String(cuts.length)} cuts, ${metres.toFixed(2)} m in all, a tenth to spare`,
    });
  }
  const of = (kind: string): number => jointsOf(system).filter((j) => j.kind === kind).length;
  const push = of('push-fit');
  items.push({
    key: 'clips',
    name: 'Locking clips for push-fit',
    amount: String(push),
    note: `for ${String(push)} push-fit ${push === 1 ? 'joint' : 'joints'}`,
  });
  const compression = of('compression');
  if (compression > 0)
    items.push({
      key: 'inserts',
      name: 'Nuts, ferrules, tube inserts',
      amount: `${String(compression)} ${compression === 1 ? 'set' : 'sets'}`,
      note: partIn(system, 'drain') ? 'the drain’s without insert' : '',
    });
  const taper = of('taper-thread');
  items.push({
    key: 'tape',
    name: 'PTFE tape',
    amount: '1 roll',
    note: `${String(rules.tapeTurns)} turns on each of ${String(taper)} tapered threads`,
  });
  items.push({
    key: 'grease',
    name: 'Silicone grease for O-rings',
    amount: '1',
    note: 'food grade; housings and membrane',
  });
  items.push({
    key: 'towel',
    name: 'Towel, bucket, paper towels, spanner for the housings',
    amount: '1 each',
    note: '',
  });
  if (rules.sanitise)
    items.push({
      key: 'bleach',
      name: 'Unscented bleach, test strips',
      amount: '1 each',
      note: `${String(rules.bleachStrengthPercent)} %; never with the membrane in, never with acid`,
    });
  return items;
}
