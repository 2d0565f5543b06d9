import { describe, expect, test } from '@jest/globals';
import { house, rules, shelf } from '../testing/fixtures.ts';
import {
  alternativesTo,
  designInWords,
  earlyFailures,
  highPressureFailure,
  operate,
  plantOf,
  referralReasons,
  refillWords,
  roomFailure,
  sameDesign,
  searchDesigns,
  settle,
  siteFrom,
  warmOpen,
  weakestPart,
  type Known,
  type Site,
} from '../index.ts';

const siteOf = (change: Known = {}): Site => {
  const r = siteFrom({ ...house, ...change }, rules);
  if (!r.ok) throw new Error(r.missing.join());
  return r.site;
};
const site = siteOf();
const search = searchDesigns({ known: house, catalogue: shelf, rules }, site);
const best = search.working[0];
if (!best) throw new Error('nothing works in an ordinary house');

describe('what is settled without a search', () => {
  test('the weakest part sets the line for the limiting valve where it is lower than the rule', () => {
    expect(weakestPart(shelf).maxPressureBar).toBe(8.6);
    const generous = { ...rules, limiterAboveBar: 8 };
    expect(settle(shelf, siteOf({ highestPressureBar: 7.9 }), generous).design.limiterId).toBeNull();
    expect(settle(shelf, siteOf({ highestPressureBar: 8.1 }), generous).design.limiterId).toBe('limiter-4');
  });
  test('the feed follows the firm’s rule', () => {
    expect(settle(shelf, site, rules).design.feedId).toBe('feed-tee');
    expect(settle(shelf, site, { ...rules, feedConnection: 'clamp' }).design.feedId).toBe('feed-clamp');
  });
  test('a far tap gets the wider tube: it decides how much of the tank is usable', () => {
    expect(settle(shelf, siteOf({ tapLengthM: 5 }), rules).design.tubeId).toBe('tube-6');
    expect(settle(shelf, siteOf({ tapLengthM: 5.1 }), rules).design.tubeId).toBe('tube-10');
  });
  test('metal that nobody ruled out is treated as metal, with its reason', () => {
    const s = settle(shelf, siteOf({ metalAfter: 'unknown' }), rules);
    expect(s.design.mineralId).toBe('mineral-large');
    expect(s.reasons.join(' ')).toContain('not ruled out');
  });
  test('a shelf without a needed kind is told by its name', () => {
    expect(() =>
      settle(
        shelf.filter((p) => p.kind !== 'drain'),
        site,
        rules,
      ),
    ).toThrow('the catalogue has no drain');
  });
});

describe('a design in a house', () => {
  test('stands in the cupboard by width, height and depth, each told with its measures', () => {
    const design = best.design;
    expect(roomFailure(design, shelf, site)).toBeNull();
    const cupboard = site.cupboard ?? { widthMm: 0, depthMm: 0, heightMm: 0 };
    const told = (c: Partial<typeof cupboard>): string =>
      roomFailure(design, shelf, { ...site, cupboard: { ...cupboard, ...c } })?.text ?? '';
    expect(told({ widthMm: 500 })).toMatch(/wide, 500 mm there/);
    expect(told({ heightMm: 400 })).toMatch(/high with room below the housings, 400 mm there/);
    expect(told({ depthMm: 140 })).toMatch(/deep, 140 mm there/);
    expect(roomFailure(design, shelf, { ...site, cupboard: null })).toBeNull();
  });
  test('wants a socket for a pump, and an element made for its salt', () => {
    const pumped = { ...best.design, pumpId: 'pump-small' };
    expect(earlyFailures(pumped, shelf, siteOf({ socket: 'no' })).map((f) => f.code)).toEqual(['no-socket']);
    expect(earlyFailures(pumped, shelf, siteOf({ socket: 'switched' }))).toEqual([]);
    const salty = earlyFailures({ ...best.design, elementId: 'element-260-low' }, shelf, siteOf({ feedTdsMgL: 1001 }));
    expect(salty.map((f) => f.code)).toEqual(['feed-too-salty']);
  });
  test('keeps more of its feed in warm water than in cold', () => {
    const warm = warmOpen(best.design, shelf, site);
    expect(warm.recovery).toBeGreaterThan(best.worst.map.points[0]?.out.recovery ?? 1);
  });
  test('may see its supply at night with the pump on top, up to what the weakest part bears', () => {
    const pumped = { ...best.design, pumpId: 'pump-large' };
    const w = operate(plantOf(pumped, shelf, site, 'worst'), site, 'worst', rules.wantedTapFlowLMin);
    expect(highPressureFailure(pumped, shelf, { ...site, highestBar: 2 }, w)).toBeNull();
    expect(highPressureFailure(pumped, shelf, { ...site, highestBar: 6 }, w)?.code).toBe('pressure-too-high');
  });
  test('gives less to a thirstier tap, and a map shared or made anew gives the same', () => {
    const plant = plantOf(best.design, shelf, site, 'worst');
    const easy = operate(plant, site, 'worst', 0.3);
    const hard = operate(plant, site, 'worst', 2.5);
    expect(hard.usableL).toBeLessThan(easy.usableL);
    expect(operate(plant, site, 'worst', 0.3, easy.map)).toEqual(easy);
    expect(operate(plant, site, 'worst', 0.3, easy.map, 'map').fill).toEqual(easy.fill);
  });
  test('is told in words and compared by its parts', () => {
    expect(designInWords(best.design, shelf)).toMatch(/^Element .*, Tank .*, Restrictor/);
    expect(sameDesign(best.design, { ...best.design })).toBe(true);
    expect(sameDesign(best.design, { ...best.design, tankId: 'tank-30' })).toBe(false);
    expect(refillWords(best)).toMatch(/min|h/);
  });
});

describe('the search', () => {
  test('orders what works by its points, and keeps failures with their reasons', () => {
    const scores = search.working.map((e) => e.score);
    expect([...scores].sort((a, b) => a - b)).toEqual(scores);
    expect(search.working.every((e) => e.failures.length === 0)).toBe(true);
    expect(search.failed.every((e) => e.failures.length > 0)).toBe(true);
  });
  test('what it sets aside without a map would fail when evaluated', () => {
    const tried = new Set(
      [...search.working, ...search.failed].map((e) =>
        JSON.stringify([e.design.elementId, e.design.restrictorId, e.design.pumpId]),
      ),
    );
    const elements = shelf.filter((p) => p.kind === 'element');
    const restrictors = shelf.filter((p) => p.kind === 'restrictor');
    let aside = 0;
    for (const e of elements)
      for (const r of restrictors)
        for (const pumpId of [null, 'pump-small', 'pump-large'])
          if (!tried.has(JSON.stringify([e.id, r.id, pumpId]))) {
            aside++;
            const design = { ...best.design, elementId: e.id, restrictorId: r.id, pumpId, tankId: 'tank-30' };
            const w = operate(plantOf(design, shelf, site, 'worst'), site, 'worst', rules.wantedTapFlowLMin);
            const open = w.map.points[0]?.out;
            const warm = warmOpen(design, shelf, site);
            const fails =
              (open?.permeateLDay ?? 0) < 15 ||
              warm.recovery > 0.37 ||
              (open?.recovery ?? 0) < 0.08 ||
              w.fill.tankTdsMgL > rules.productTdsMaxMgL;
            expect({ design: [e.id, r.id, pumpId], fails }).toEqual({ design: [e.id, r.id, pumpId], fails: true });
          }
    expect(aside).toBeGreaterThan(3);
  });
  test('offers no alternative twice and never the chosen one', () => {
    const others = alternativesTo(best, search.working, shelf).map((a) => JSON.stringify(a.evaluation.design));
    expect(new Set(others).size).toBe(others.length);
    expect(others).not.toContain(JSON.stringify(best.design));
    expect(others.length).toBeLessThanOrEqual(4);
  });
  test('with a single design left still names what there is', () => {
    expect(alternativesTo(best, [best], shelf)).toEqual([]);
  });
});

describe('referrals', () => {
  test('begin just beyond each limit', () => {
    const count = (change: Known): number => referralReasons(siteOf(change), shelf).length;
    expect([count({ temperatureC: 38, warmestC: 38 }), count({ temperatureC: 38.1, warmestC: 39 })]).toEqual([0, 1]);
    expect([count({ ironMgL: 0.3 }), count({ ironMgL: 0.31 })]).toEqual([0, 1]);
    expect([count({ feedTdsMgL: 4000 }), count({ feedTdsMgL: 4001 })]).toEqual([0, 1]);
  });
});
