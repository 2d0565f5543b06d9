import { describe, expect, test } from '@jest/globals';
import {
  agreedStep,
  cautionsOf,
  drainFor,
  drainProblem,
  holesInWords,
  holesOf,
  jointSheets,
  pickList,
  siteFrom,
  type Known,
  type System,
} from '../index.ts';
import { house, rules, shelf, systemOf, usual } from '../testing/fixtures.ts';
import { decided } from '../testing/decided.ts';

const siteOf = (change: Known = {}, r = rules) => {
  const found = siteFrom({ ...house, ...change }, r);
  if (!found.ok) throw new Error('the house is known');
  return found.site;
};
const system = systemOf(usual);
const clamped = systemOf({ ...usual, feedId: 'feed-clamp' });
const codes = (change: Known, of: System = system): string[] =>
  cautionsOf(of, { ...house, ...change }, siteOf(change)).map((c) => c.code);

describe('before any spanner', () => {
  test('nothing is said where nothing is in the way', () => {
    expect(codes({ stopValveHolds: 'yes', pipeMaterial: 'plastic' })).toEqual([]);
  });
  test.each([
    ['a valve that does not turn is not forced', { stopValveHolds: 'seized' }, 'valve-seized'],
    ['a valve that does not hold', { stopValveHolds: 'no' }, 'valve-leaks'],
    ['copper parted by plastic: the earth bond', { pipeMaterial: 'copper' }, 'earth-bond'],
    ['steel too', { pipeMaterial: 'steel' }, 'earth-bond'],
    ['lead is not joined to', { pipeMaterial: 'lead' }, 'lead-pipe'],
  ] as const)('%s', (_, change, code) => {
    expect(codes({ stopValveHolds: 'yes', ...change })).toEqual([code]);
  });
  test('a piercing clamp leaves the pipe whole: no bond is asked; it does not go through steel, and wants a pilot in plastic', () => {
    expect(codes({ pipeMaterial: 'copper' }, clamped)).toEqual([]);
    expect(codes({ pipeMaterial: 'steel' }, clamped)).toEqual(['clamp-not-here']);
    expect(codes({ pipeMaterial: 'plastic' }, clamped)).toEqual(['clamp-plastic']);
  });
  test('a piercing clamp is made for one size of pipe', () => {
    expect(codes({ pipeMaterial: 'copper', pipeOutsideMm: 22 }, clamped)).toEqual(['clamp-size']);
    expect(codes({ pipeMaterial: 'copper', pipeOutsideMm: 15.2 }, clamped)).toEqual([]);
    expect(codes({ pipeMaterial: 'plastic', pipeOutsideMm: 22 })).toEqual([]);
  });
  test('only the bond asks the household something', () => {
    const asks = cautionsOf(system, { pipeMaterial: 'copper' }, siteOf({ pipeMaterial: 'copper' })).map((c) => c.asks);
    expect(asks).toEqual([agreedStep('earth-bond')]);
  });
});

describe('the way to the drain', () => {
  test('a clamp before the trap; where there is no room another way, and never after the trap', () => {
    expect(drainProblem(siteOf({ drainRun: 'vertical' }), rules)).toBeNull();
    const none = drainProblem(siteOf({ drainRun: 'none' }), rules) ?? '';
    expect(none).toMatch(/stand-pipe or floor drain with an air gap; a hole after the trap .* is not offered/);
    expect(drainProblem(siteOf({ drainRun: 'none' }), { drainSpigot: true })).toContain(
      'or to the dishwasher’s spigot',
    );
    expect(drainProblem(siteOf({ drainRun: 'none', drainWay: 'standpipe' }), rules)).toBeNull();
  });
  test('the dishwasher’s spigot only where the firm’s rule takes it', () => {
    expect(drainProblem(siteOf({ drainWay: 'spigot' }), rules)).toContain('local code');
    expect(drainProblem(siteOf({ drainWay: 'spigot' }), { drainSpigot: true })).toBeNull();
  });
  test('each way has its part, and only a clamp is drilled for', () => {
    for (const [way, id] of [['clamp', 'drain-clamp'], ['spigot', 'drain-spigot'], ['standpipe', 'drain-standpipe']] as const) {
      const site = siteOf({ drainWay: way });
      expect(drainFor(shelf, site).id).toBe(id);
      const of = systemOf({ ...usual, drainId: id });
      expect(holesOf(of, site, rules).some((h) => h.key === 'drain')).toBe(way === 'clamp');
      expect(cautionsOf(of, {}, site).map((c) => c.code)).toEqual(way === 'clamp' ? [] : [way]);
    }
  }); // oxfmt-ignore
  test('the hole is as wide as its tube, and none is offered where none may be', () => {
    const drilled = (of: System, change: Known): number[] =>
      holesOf(of, siteOf(change), rules).flatMap((h) => (h.key === 'drain' ? [h.diameterMm] : []));
    expect(drilled(system, {})).toEqual([7]);
    expect(drilled(systemOf({ ...usual, drainId: 'drain-clamp-10' }), {})).toEqual([10]);
    expect(drilled(system, { drainRun: 'none' })).toEqual([]);
  });
  test('a tube that falls by its own weight from an air gap is not narrowed', () => {
    const d = decided({ known: { ...house, airGap: 'yes' }, catalogue: shelf, rules });
    if (d.kind !== 'recommendation') throw new Error(d.sentence);
    expect(d.chosen.design.drainId).toBe('drain-clamp-10');
    expect(cautionsOf(systemOf(d.chosen.design), house, siteOf())).toEqual([]);
    const narrow = systemOf({ ...d.chosen.design, drainId: 'drain-clamp' });
    expect(cautionsOf(narrow, house, siteOf()).map((c) => c.text)).toEqual([expect.stringContaining('never narrowed')]);
    // a firm whose shelf has no wide clamp is told, and not kept from working
    const old = shelf.filter((p) => p.id !== 'drain-clamp-10');
    expect(drainFor(old, siteOf({ airGap: 'yes' })).id).toBe('drain-clamp');
  });
});

describe('sizes that do not meet', () => {
  const feed = (thread: string) =>
    jointSheets(system, rules, thread).find((j) => j.where === 'feed tee, inlet')?.how ?? '';
  const adapters = (thread: string) =>
    pickList(system, rules, holesOf(system, siteOf(), rules), thread).filter((i) => i.key.startsWith('adapter-'));
  test('the stop valve’s thread decides the adapter, on the joint and in the van', () => {
    expect(feed('half')).toMatch(/^Gasket seated/);
    expect(adapters('half')).toEqual([]);
    expect(feed('three-eighths')).toMatch(/^Adapter G 3\/8 to G 1\/2 on the stop valve first, a gasket in each side\. Gasket seated/);
    expect(adapters('three-eighths').map((i) => i.name)).toEqual(['Adapter G 3/8 to G 1/2']);
  }); // oxfmt-ignore
  test('a thread nobody looked at: both kinds go into the van, and it is said', () => {
    expect(adapters('unknown').map((i) => [i.name, i.amount])).toEqual([
      ['Adapters G 3/8 and G 3/4 to G 1/2', '1 each'],
    ]);
    expect(feed('unknown')).toContain('was not read');
  });
  test('a wider tube to a far tap: narrow ones between the parts, a reducer at each end of it', () => {
    const far = systemOf({ ...usual, tubeId: 'tube-10' });
    expect(new Set(far.links.flatMap((l) => (l.tube && l.to.component !== 'tap' ? [l.tube.id] : [])))).toEqual(new Set(['tube-6']));
    const items = pickList(far, rules, holesOf(far, siteOf(), rules), 'half').filter((i) => i.key.startsWith('adapter-'));
    expect(items.map((i) => [i.name, i.count])).toEqual([['Reducer 10 mm to 6 mm', 2]]);
    // made at the open tap all of it carries the tap's flow
    const direct = systemOf({ ...usual, tubeId: 'tube-10', tankId: null, permeatePumpId: null, pumpId: 'pump-open', elementId: 'element-1500-open' });
    expect(new Set(direct.links.flatMap((l) => (l.tube ? [l.tube.id] : [])))).toEqual(new Set(['tube-10']));
    expect(pickList(direct, rules, [], 'half').some((i) => i.key.startsWith('adapter-'))).toBe(false);
  }); // oxfmt-ignore
});

test('what a household agrees to names each hole that is drilled, where, how large and in what', () => {
  const said = holesInWords(holesOf(system, siteOf({ worktop: 'stone' }), rules), 'stone or quartz', {
    xMm: 610.4,
    yMm: 59.6,
  });
  expect(said).toBe('12.5 mm for tap in stone or quartz, 610 mm from the left and 60 mm from the back; 7 mm for drain, in the waste pipe on the basin’s side of the trap; 2.5 mm for two screws for the frame'); // oxfmt-ignore
  expect(holesInWords(holesOf(system, siteOf({ worktop: 'spare-hole' }), rules), '', null)).not.toContain('tap');
});

test('a tap on a bracket is screwed to the wall: no hole in the worktop, a bit for the wall', () => {
  const [first] = holesOf(system, siteOf({ worktop: 'stone', tapMount: 'bracket' }), rules);
  expect(first).toMatchObject({ key: 'tap', diameterMm: 6, wet: false });
  expect(first?.where).toContain('bracket');
  const said = holesInWords(holesOf(system, siteOf({ worktop: 'stone', tapMount: 'bracket' }), rules), 'stone', {
    xMm: 5,
    yMm: 5,
  });
  expect(said).toMatch(/^6 mm for two screws for the tap’s bracket; /);
  const [above] = holesOf(system, siteOf({ worktop: 'stone', tapMount: 'above' }), rules);
  expect(above?.how).toContain('held from above');
});
