import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { house, rules, shelf } from '../testing/fixtures.ts';
import {
  alongTheWater,
  decide,
  jointsOf,
  livesOf,
  partIn,
  plainReadings,
  prove,
  readJob,
  viewSystem,
  type Known,
  type SystemView,
} from '../index.ts';
import { decided } from '../testing/decided.ts';

const houses = fc.record({
  feedTdsMgL: fc.double({ min: 60, max: 900, noNaN: true }),
  hardnessMgL: fc.double({ min: 5, max: 50, noNaN: true }),
  temperatureC: fc.double({ min: 8, max: 24, noNaN: true }),
  staticPressureBar: fc.double({ min: 2, max: 7, noNaN: true }),
  people: fc.integer({ min: 1, max: 6 }),
  fridge: fc.constantFrom('yes', 'no'),
  airGap: fc.constantFrom('yes', 'no'),
  metalAfter: fc.constantFrom('no', 'copper'),
  drainRun: fc.constantFrom('vertical', 'horizontal', 'none'),
  worktop: fc.constantFrom('steel', 'stone', 'laminate', 'spare-hole'),
  socket: fc.constantFrom('yes', 'no'),
});

/** Every system the shelf recommends for houses at random, seen whole. */
const all = fc.sample(houses, { numRuns: 14, seed: 20 }).flatMap((change): { known: Known; view: SystemView }[] => {
  const known: Known = { source: 'mains', tapLengthM: 2, tapRiseM: 0.6, largestDrawL: 2, ...change };
  const input = { known, catalogue: shelf, rules };
  const d = decide(input);
  if (d.kind !== 'recommendation') return [];
  const v = viewSystem(input, { design: d.chosen.design });
  if (!v.ok) throw new Error(v.reason);
  return [{ known, view: v.view }];
});
function systems(check: (view: SystemView, known: Known) => void): void {
  for (const s of all) check(s.view, s.known);
}

describe('in any house that gets a system', () => {
  test('most houses do', () => {
    expect(all.length).toBeGreaterThan(7);
  });
  test('its Line is legal, each joint has its sheet, and each tube both its ends', () => {
    systems(({ faults, system, joints }) => {
      expect(faults).toEqual([]);
      expect(joints.map((s) => s.joint.number)).toEqual(jointsOf(system).map((j) => j.number));
      for (const s of joints) expect([s.how.length > 15, s.look.length > 10]).toEqual([true, true]);
    });
  });
  test('its run sheet names each step once, wets all, and has no wait without its time', () => {
    systems(({ sheet, system }) => {
      expect(new Set(sheet.map((s) => s.key)).size).toBe(sheet.length);
      const wet = new Set(sheet.flatMap((s) => s.wets));
      for (const e of alongTheWater(system))
        if (e.kind !== 'stop-valve') expect([e.id, wet.has(e.id)]).toEqual([e.id, true]);
      for (const s of sheet.filter((x) => x.kind === 'wait')) expect(s.minutes).toBeGreaterThan(0);
    });
  });
  test('a pump is never without its caution, nor bleach, nor the membrane’s housing', () => {
    systems(({ sheet, system }) => {
      const cautions = sheet.map((s) => s.caution ?? '').join(' ');
      expect(cautions.includes('residual-current')).toBe(partIn(system, 'pump') !== undefined);
      expect(cautions.includes('Never with the membrane in')).toBe(rules.sanitise);
      expect(cautions).toContain('pressure gone before the cap is opened');
    });
  });
  test('winter never makes more than today, and what is made and wasted is what was fed', () => {
    systems(({ today, worst }) => {
      expect(worst.litresADay).toBeLessThanOrEqual(today.litresADay * 1.0001);
      for (const o of [today, worst])
        expect(o.middle.out.permeateLDay + o.middle.out.concentrateLDay).toBeCloseTo(o.middle.out.feedLDay, 6);
    });
  });
  test('read as computed it proves good, and saltier is never graded better', () => {
    const rank = { good: 0, watch: 1, act: 2 };
    systems((view) => {
      const out = view.today.middle.out;
      const grade = (times: number): number => {
        const readings = plainReadings({
          feedTdsMgL: { value: view.site.tdsMgL },
          productTdsMgL: { value: Math.min(view.site.tdsMgL, out.permeateTdsMgL * times) },
          temperatureC: { value: view.site.todayC },
          membranePressureBar: { value: view.today.middle.inletBar },
          productFlowLMin: { value: 1e-9 + out.permeateLDay / 1440 },
          concentrateFlowLMin: { value: out.concentrateLDay / 1440 },
        });
        const r = prove(readings, view.system, view.site, rules.meterError);
        if (!r.ok) throw new Error('incomplete');
        return rank[r.verdict.compared[1]?.grade ?? 'act'];
      };
      const grades = [0.5, 1, 2, 4, 12].map(grade);
      expect(grades.slice(0, 2)).toEqual([0, 0]);
      expect([...grades].sort()).toEqual(grades);
    });
  });
  test('every cartridge has a life that ends, and more use never lengthens it', () => {
    const record = readJob([]);
    systems(({ system, worst }) => {
      const lives = (litres: number) =>
        livesOf(system, record, 0, 1, {
          productLDay: litres,
          said: false,
          wasteRatio: worst.wasteRatio,
          carries: null,
          dissolvedMgL: null,
        });
      const [light, heavy] = [lives(2), lives(40)];
      expect(light.length).toBeGreaterThan(4);
      light.forEach((l, i) => {
        expect(Number.isFinite(l.dueMs)).toBe(true);
        expect(heavy[i]?.dueMs).toBeLessThanOrEqual(l.dueMs);
      });
    });
  });
  test('the pick list has the holes’ bits to hand and each thing once', () => {
    systems(({ picks, holes, drainProblem }, known) => {
      expect(new Set(picks.map((p) => p.key)).size).toBe(picks.length);
      // where the drain cannot be, no hole is offered
      expect(holes.map((h) => h.key)).toEqual(drainProblem === null ? ['tap', 'drain', 'frame'] : ['tap', 'frame']);
      for (const h of holes) expect(picks.some((p) => p.key === `bit-${h.key}`)).toBe(h.tool !== 'none');
      expect(drainProblem === null).toBe(known.drainRun !== 'none');
    });
  });
});

test('a house gauged to the last field is sized without an assumption', () => {
  const v = decided({ known: house, catalogue: shelf, rules });
  expect(v.kind).toBe('recommendation');
});
