import type { Design } from '../system/design.ts';
import type { Line } from '../system/line.ts';
import { findPart, partsOf, type Catalogue } from '../parts/catalogue.ts';
import type { HouseRules } from '../rules/rules.ts';

/** One thing to load into the van. */
export interface PickItem {
  readonly key: string;
  readonly name: string;
  readonly amount: string;
  readonly note: string;
}

/** Everything that goes into the van, with counts and lengths, so that nothing is fetched twice. */
export function pickList(line: Line, design: Design, catalogue: Catalogue, rules: HouseRules): PickItem[] {
  const items: PickItem[] = [];
  const counts = new Map<string, number>();
  const count = (id: string, by = 1): void => {
    counts.set(id, (counts.get(id) ?? 0) + by);
  };
  for (const e of line.elements) if (e.partId !== null) count(e.partId);
  const housings = line.elements.filter(
    (e) => e.role === 'sediment' || e.role === 'iron' || e.role === 'carbon',
  ).length;
  const housing = partsOf(catalogue, 'housing')[0];
  const frame = partsOf(catalogue, 'frame')[0];
  if (housing) count(housing.id, housings);
  if (frame) count(frame.id);
  for (const [id, n] of counts) {
    const part = findPart(catalogue, id);
    if (part) items.push({ key: id, name: part.name, amount: String(n), note: part.fitting ?? '' });
  }
  if (design.pumpId !== null)
    items.push({
      key: 'pump-electrics',
      name: 'Transformer, low-pressure switch, pressure switch',
      amount: '1 set',
      note: 'Transformer off the floor, on a protected socket.',
    });
  const byTube = new Map<string, number>();
  for (const t of line.tubes) byTube.set(t.partId, (byTube.get(t.partId) ?? 0) + t.lengthM);
  for (const [id, metres] of byTube) {
    const part = findPart(catalogue, id);
    const cuts = line.tubes.filter((t) => t.partId === id);
    items.push({
      key: id,
      name: part?.name ?? id,
      amount: `${(Math.ceil(metres * 1.1 * 2) / 2).toFixed(1)} m`,
      note: `${String(cuts.length)} cuts, ${metres.toFixed(2)} m in all, a tenth to spare`,
    });
  }
  const of = (kind: string): number => line.joints.filter((j) => j.kind === kind).length;
  const push = of('push-fit');
  items.push({
    key: 'clips',
    name: 'Locking clips for push-fit',
    amount: String(push),
    note: `for ${String(push)} push-fit joints`,
  });
  const compression = of('compression');
  if (compression > 0)
    items.push({
      key: 'inserts',
      name: 'Nuts, ferrules, tube inserts',
      amount: `${String(compression)} sets`,
      note: 'the drain’s without insert',
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
