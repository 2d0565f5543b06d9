import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  asItStands,
  consequencesOf,
  EXTRAS,
  extraFrom,
  extrasOpen,
  FactSchema,
  holesOf,
  jointsOf,
  newFaults,
  partIn,
  pickList,
  proposalOf,
  readJob,
  sheetNow,
  siteFrom,
  systemFaults,
  tubesOf,
  viewOf,
  viewSystem,
  withExtra,
  withExtras,
  type AsBuilt,
  type Extra,
  type ExtraName,
  type Fact,
  type Known,
  type System,
  type SystemView,
} from '../index.ts';
import { house, rules, shelf, systemOf, usual } from '../testing/fixtures.ts';
import { decided } from '../testing/decided.ts';

const NAMES = Object.keys(EXTRAS) as ExtraName[];
const extra = (name: ExtraName, id: string = name): Extra => {
  const e = extraFrom(name, id, shelf);
  if (!e) throw new Error(`the shelf has no ${name}`);
  return e;
};
const found = siteFrom(house, rules);
if (!found.ok) throw new Error('the house is known');
const { site, assumed } = found;
const view = (s: System): SystemView => viewOf(s, site, assumed, rules);
const filters = ((): System => {
  const known: Known = { ...house, aim: 'taste' };
  const proposal = proposalOf(decided({ known, catalogue: shelf, rules }));
  const v = proposal && viewSystem({ known, catalogue: shelf, rules }, proposal);
  if (!v?.ok) throw new Error('filters alone do');
  return v.view.system;
})();
const systems: Readonly<Record<string, System>> = {
  stored: systemOf(usual),
  direct: systemOf({ ...usual, tankId: null, permeatePumpId: null, pumpId: 'pump-large', elementId: 'element-760' }),
  limited: systemOf({ ...usual, limiterId: 'limiter-4', backflowId: 'backflow-valve' }),
  fridge: systemOf({ ...usual, fridge: true }),
  filters,
};
const stored = systems.stored ?? filters;
const at = (s: System, kind: string): number => s.components.findIndex((c) => c.kind === kind);

describe('what a system carries beside its sizing', () => {
  test.each(Object.entries(systems))('%s: each goes in by itself, legal, every port reached, the water through it', (_, s) => {
    const open = extrasOpen(s);
    expect(open).toContain('second-tap');
    for (const name of open) {
      const more = withExtra(s, extra(name));
      expect(systemFaults(more)).toEqual(systemFaults(s));
      expect(more.components.length).toBeGreaterThan(s.components.length);
      const shown = view(more);
      expect(shown.worst.tapFlowLMin).toBeGreaterThan(0);
      expect(shown.picks.some((p) => p.part === extra(name).part.id)).toBe(true);
    }
  }); // oxfmt-ignore
  test('in any order they give a legal system, and nothing that stood there loses its name', () => {
    fc.assert(
      fc.property(fc.constantFrom(...Object.values(systems)), fc.shuffledSubarray(NAMES), (s, names) => {
        const more = withExtras(s, names.map((n) => extra(n))); // oxfmt-ignore
        expect(systemFaults(more)).toEqual(systemFaults(s));
        const ids = new Set([...more.components, ...more.links].map((x) => x.id));
        for (const x of [...s.components, ...s.links]) expect(ids.has(x.id)).toBe(true);
        expect(ids.size).toBe(more.components.length + more.links.length);
        const joints = new Set(jointsOf(more).map((j) => j.id));
        for (const j of jointsOf(s)) expect(joints.has(j.id)).toBe(true);
      }),
      { numRuns: 40 },
    );
  });
  test('stand where their sheets want them along the feed', () => {
    const all = withExtras(systems.limited ?? stored, NAMES.map((n) => extra(n))); // oxfmt-ignore
    const order = ['feed', 'backflow', 'leak-valve', 'limiter', 'first-gauge', 'sediment'].map((k) => at(all, k));
    expect([...order].sort((a, b) => a - b)).toEqual(order);
    expect(order.every((i) => i >= 0)).toBe(true);
  });
  test('a second tap hangs on a tee with its own valve, after everything the water passes; the first stays the first', () => {
    const more = withExtra(stored, extra('second-tap'));
    expect(partIn(more, 'tap')?.id).toBe('tap-plain');
    expect(more.components.filter((c) => c.kind === 'branch')).toHaveLength(1);
    const tubes = tubesOf(more);
    expect(tubes).toHaveLength(tubesOf(stored).length + 2);
    expect(tubes.find((t) => t.to.kind === 'second-tap')?.branch).toBe('fridge');
    const holes = holesOf(more, site, rules);
    expect(holes.map((h) => h.key)).toEqual(['tap', 'second-tap', 'drain', 'frame']);
    // a hole that is spare serves one tap
    expect(holesOf(more, { ...site, worktop: 'spare-hole' }, rules).map((h) => h.tool === 'none')).toEqual([true, false, false, false]); // oxfmt-ignore
    expect(view(more).sheet.some((s) => s.key === 'second-tap-open')).toBe(true);
  });
  test('a branch for later may come twice, told apart; all else once', () => {
    const twice = withExtras(stored, [extra('spare-branch', 'a'), extra('spare-branch', 'b')]);
    expect(twice.components.filter((c) => c.kind === 'branch').map((c) => c.slot)).toEqual(['branch tee', 'branch tee 2']);
    const leak = withExtra(stored, extra('leak-stop', 'a'));
    expect(withExtra(leak, extra('leak-stop', 'b'))).toBe(leak);
    expect(extrasOpen(leak)).not.toContain('leak-stop');
  }); // oxfmt-ignore
  test('is not offered where the shelf has no part for it', () => {
    expect(extraFrom('leak-stop', 'x', shelf.filter((p) => p.kind !== 'leak-valve'))).toBeNull(); // oxfmt-ignore
    expect(extraFrom('second-tap', 'x', shelf.filter((p) => p.kind !== 'branch'))).toBeNull(); // oxfmt-ignore
  });
});

describe('what a change does', () => {
  test('is told by the figures it moves, and by no other', () => {
    const before = view(stored);
    expect(consequencesOf(before, before, 'crowns')).toEqual([]);
    const leak = consequencesOf(before, view(withExtra(stored, extra('leak-stop'))), 'crowns');
    expect(leak.map((c) => c.what)).toEqual(['joints', 'tube', 'parts that have a price']);
    const told = consequencesOf(before, view(withExtra(stored, extra('second-tap'))), 'crowns');
    expect(told.map((c) => c.what)).toEqual(expect.arrayContaining(['joints', 'holes', 'tube']));
    expect(told.find((c) => c.what === 'holes')).toEqual({ what: 'holes', from: '3', to: '4' });
    const backflow = consequencesOf(before, view(withExtra(stored, extra('backflow'))), 'crowns');
    const made = backflow.find((c) => c.what === 'made a day, coldest water');
    expect(Number.parseFloat(made?.to ?? 'NaN')).toBeLessThan(Number.parseFloat(made?.from ?? 'NaN'));
  });
  test('names what is not legal any more', () => {
    const before = view(stored);
    const without = { ...stored, components: stored.components.filter((c) => c.kind !== 'sample') };
    expect(newFaults(before, { ...before, faults: systemFaults(without) }).join(' ')).toContain('sample port');
    expect(newFaults(before, before)).toEqual([]);
  });
});

describe('on the record', () => {
  const id = (n: number): string => `5f0c4b1e-4444-4444-a444-${String(n).padStart(12, '0')}`;
  const common = { v: 2, jobId: id(900), by: id(901) } as const;
  const carries = (name: ExtraName): Fact => {
    const { part, tee } = extra(name);
    return FactSchema.parse({ ...common, id: id(1), at: '2026-05-01T08:00:00.000Z', kind: 'carries', design: id(500), extra: name, part, tee }); // oxfmt-ignore
  };
  const back = FactSchema.parse({ ...common, id: id(2), at: '2026-05-01T09:00:00.000Z', kind: 'taken-back', corrects: id(1), reason: 'not wanted' }); // oxfmt-ignore
  test('what was put in is called by its fact, and is off again once that is taken back', () => {
    const more = asItStands(stored, readJob([carries('second-tap')]));
    expect(more.components.find((c) => c.kind === 'second-tap')?.id).toBe(id(1));
    expect(asItStands(stored, readJob([carries('second-tap'), back])).components).toEqual(stored.components);
  });
  test('its links may be written down as they were cut', () => {
    const link = `${id(1)}:2`;
    const run = FactSchema.parse({ ...common, id: id(3), at: '2026-05-01T09:00:00.000Z', kind: 'tube-run', design: id(500), link, lengthM: 6.2, riseM: 0.5 }); // oxfmt-ignore
    const more = asItStands(stored, readJob([carries('second-tap'), run]));
    expect(more.links.find((l) => l.id === link)?.lengthM).toBe(6.2);
  });
  test('the run sheet takes its step in before the hand-over, and keeps all that stood on it', () => {
    const record = readJob([carries('leak-stop')]);
    const sheet = view(stored).sheet;
    const built = { version: { sheet }, record } as unknown as AsBuilt;
    const now = sheetNow(built, view(asItStands(stored, record)).sheet);
    expect(now.map((s) => s.key).slice(-2)).toEqual(['leak-try', 'leave']);
    const without = now.filter((s) => s.key !== 'leak-try');
    expect(without.map((s) => [s.key, s.minutes, s.needs?.length])).toEqual(
      sheet.map((s) => [s.key, s.minutes, (s.needs?.length ?? 0) + (s.key === 'leave' ? 1 : 0)]),
    );
    // its joints are looked at with the others, and it is wet with what stands before and after it
    const joints = view(asItStands(stored, record)).joints.length;
    expect(now.find((s) => s.key === 'look-pressure')?.title).toContain(`1 to ${String(joints)}`);
    const valve = asItStands(stored, record).components.find((c) => c.kind === 'leak-valve');
    expect(now.some((s) => valve !== undefined && s.wets.includes(valve.id))).toBe(true);
    // the hand-over waits for it
    expect(now.at(-1)?.needs).toEqual([...(sheet.at(-1)?.needs ?? []), 'leak-try']);
    expect(sheetNow({ ...built, record: readJob([]) }, sheet)).toBe(sheet);
  });
});

test('the pick list has the part and its tee', () => {
  const more = withExtra(stored, extra('second-tap'));
  const items = pickList(more, rules, holesOf(more, site, rules));
  expect(items.find((i) => i.part === 'tap-plain')?.count).toBe(2);
  expect(items.some((i) => i.part === 'fridge-branch')).toBe(true);
});
