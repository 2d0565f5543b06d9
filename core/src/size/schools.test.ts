import { describe, expect, test } from '@jest/globals';
import { house, rules, shelf, systemOf } from '../testing/fixtures.ts';
import {
  bandsOf,
  alongTheWater,
  branchOf,
  decide,
  designInWords,
  evaluate,
  branchBar,
  pressureAtWaterBar,
  lifeLitres,
  systemFaults,
  simulateYear,
  partOf,
  rankFaults,
  siteFrom,
  studyDesign,
  viewSystem,
  type Decision,
  type Known,
  type SizeInput,
} from '../index.ts';
import { branchService } from './explain/reasons.ts';

const input = (change: Known = {}, more: Partial<SizeInput['rules']> = {}): SizeInput => ({
  known: { ...house, ...change },
  catalogue: shelf,
  rules: { ...rules, ...more },
});
type Recommendation = Extract<Decision, { kind: 'recommendation' }>;
const recommended = (i: SizeInput): Recommendation => {
  const d = decide(i);
  if (d.kind !== 'recommendation') throw new Error(`${d.kind}: ${d.sentence}`);
  return d;
};
const siteOf = (i: SizeInput) => {
  const r = siteFrom(i.known, i.rules);
  if (!r.ok) throw new Error('not known');
  return r.site;
};
const noTank: Known = { storeWish: 'none', patience: 'patient', feedTdsMgL: 250, hardnessMgL: 60, alkalinityMgL: 50 };

describe('a household that wants no tank', () => {
  const i = input(noTank);
  const d = recommended(i);
  test('gets a pumped element at an open tap, with its glass in seconds and its first glass in the reasons', () => {
    expect(d.chosen.design.tankId).toBeNull();
    expect(d.chosen.design.pumpId).not.toBeNull();
    expect(d.sentence).toMatch(/without a tank: [\d.]+ L\/min at the tap in the coldest water, a glass in \d+ seconds/);
    expect(d.reasons.join(' ')).toMatch(/after a night the first glass is near \d+ mg\/L/);
    expect(designInWords(d.chosen.design, shelf)).toContain('no tank');
    expect(d.chosen.worst.tapFlowLMin).toBeGreaterThanOrEqual(0.5);
  });
  test('without a socket nothing fits, and it is told why', () => {
    const refused = decide(input({ ...noTank, socket: 'no', runningPressureBar: 2, staticPressureBar: 2.4 }));
    expect(refused.kind).toBe('nothing-fits');
    expect(JSON.stringify(refused)).toMatch(/needs a socket|wants no tank/);
  });
  test('its Line has no tank and an electric valve before the pump, is legal, and has its sheets', () => {
    const v = viewSystem(i, { design: d.chosen.design });
    if (!v.ok) throw new Error(v.reason);
    const roles = alongTheWater(v.view.system).map((e) => e.kind);
    expect(roles).not.toContain('tank');
    expect(roles.indexOf('feed-valve')).toBe(roles.indexOf('pump') - 1);
    expect(v.view.faults).toEqual([]);
    const keys = v.view.sheet.map((s) => s.key);
    expect(keys).toEqual(expect.arrayContaining(['own-rinse', 'long-run', 'first-drink', 'pump-on']));
    expect(keys.some((k) => k.startsWith('fill-') || k === 'air-charge')).toBe(false);
    expect(v.view.profileToday.points.every((p) => Number.isFinite(p.pressureBar) && p.pressureBar >= 0)).toBe(true);
    const wet = new Set(v.view.sheet.flatMap((s) => s.wets));
    expect(alongTheWater(v.view.system).filter((e) => e.kind !== 'stop-valve' && !wet.has(e.id))).toEqual([]);
  });
  test('its bands, flips and year are worked out like any other’s', () => {
    const bands = bandsOf(i, d.chosen.design, 60);
    expect(bands?.tapFlowLMin.low).toBeLessThan(bands?.tapFlowLMin.high ?? 0);
    const study = studyDesign(i, d.chosen.design, d.contenders);
    expect(study?.flips.some((f) => f.holdsFrom !== null || f.holdsTo !== null)).toBe(true);
    const year = simulateYear(d.chosen.design, shelf, siteOf(i));
    expect(year.months).toHaveLength(12);
    expect(year.year.starts).toBe(year.year.draws);
    expect(year.energyKWh).toBeGreaterThan(1);
  });
  test('no tank can have lost its air', () => {
    const ranked = rankFaults(
      { feedTdsMgL: 250, productTdsMgL: 15, temperatureC: 12, membranePressureBar: 6, productFlowLMin: 0.8, concentrateFlowLMin: 1.2 },
      systemOf(d.chosen.design), siteOf(i), 0.03,
    ); // oxfmt-ignore
    expect(ranked.map((f) => f.code)).not.toContain('air-charge');
  });
  test('the house rule for one school speaks where the household does not', () => {
    const own = { ...noTank, storeWish: undefined };
    const known = Object.fromEntries(Object.entries({ ...house, ...own }).filter(([, v]) => v !== undefined)) as Known;
    const by = (store: 'tank' | 'direct') => decide({ known, catalogue: shelf, rules: { ...rules, store } });
    const kinds = (['direct', 'tank'] as const).map((s) => {
      const x = by(s);
      return x.kind === 'recommendation' ? x.chosen.design.tankId === null : null;
    });
    expect(kinds).toEqual([true, false]);
  });
  test('the other school is always among the alternatives where it does, with its figures', () => {
    const both = recommended(input({ ...noTank, storeWish: 'either' }));
    const others = both.alternatives.map((a) => a.title);
    expect(others).toContain(both.chosen.design.tankId === null ? 'With a tank' : 'Without a tank');
  });
});

describe('chloramine', () => {
  test('decides between storage and direct: the carbon has its minute in one and not in the other', () => {
    const soft = { ...noTank, storeWish: 'either', caresMost: 'room' } as const;
    const chlorine = recommended(input(soft));
    expect(chlorine.chosen.design.tankId).toBeNull();
    const chloramine = recommended(input({ ...soft, disinfectant: 'chloramine', chlorineMgL: 1.5 }));
    expect(chloramine.chosen.design.tankId).not.toBeNull();
    expect(chloramine.rejected.join(' ')).toMatch(
      /Without a tank: at [\d.]+ L\/min the water has \d+ s in the carbon; chloramine wants 60 s/,
    );
    expect(chloramine.reasons.join(' ')).toMatch(/chloramine wants 60 s/);
  });
});

describe('private water', () => {
  const well: Known = { source: 'well', switchLowBar: 2.2, switchHighBar: 3.6, disinfectant: 'none', chlorineMgL: 0 };
  test('with microbes in its report gets a lamp last before the tap, and is held to a laboratory sample', () => {
    const i = input({ ...well, laboratory: 'unsafe' });
    const d = recommended(i);
    expect(d.chosen.design.lampId).not.toBeNull();
    expect(d.safety.map((s) => s.code)).toContain('private-unsafe');
    const line = systemOf(d.chosen.design);
    const roles = alongTheWater(line)
      .filter((e) => branchOf(e) === 'product')
      .map((e) => e.kind);
    expect(roles.at(-2)).toBe('lamp');
    expect(systemFaults(line)).toEqual([]);
    const v = viewSystem(i, { design: d.chosen.design });
    const cautions = v.ok ? v.view.sheet.map((s) => s.caution ?? '').join(' ') : '';
    expect(cautions).toMatch(/Never look into the light/);
    expect(cautions).toMatch(/Nobody drinks from this tap until the laboratory/);
  });
  test('without a socket the lamp cannot burn, and nothing is recommended', () => {
    const d = decide(input({ ...well, laboratory: 'unsafe', socket: 'no' }));
    expect(d.kind).toBe('nothing-fits');
    expect(JSON.stringify(d)).toContain('a lamp needs a socket');
  });
  test('without a lamp on the shelf it is referred', () => {
    const d = decide({
      ...input({ ...well, laboratory: 'unsafe' }),
      catalogue: shelf.filter((p) => p.kind !== 'lamp'),
    });
    expect(d.kind).toBe('referral');
  });
  test('with a little iron gets a cartridge before its carbon, whose life follows the iron', () => {
    const d = recommended(input({ ...well, laboratory: 'clean', ironMgL: 0.6 }));
    expect(d.chosen.design.ironId).toBe('iron-cartridge');
    const line = systemOf(d.chosen.design);
    const roles = alongTheWater(line).map((e) => e.kind);
    expect(roles.indexOf('iron')).toBe(roles.indexOf('carbon') - 1);
    const part = partOf(shelf, 'iron', 'iron-cartridge');
    const carries = { ironMgL: 0.6, disinfectant: 'none', chlorineMgL: 0 };
    expect(lifeLitres(part, carries)).toBeCloseTo(9000 / 0.6, 9);
    expect(lifeLitres(part, { ...carries, ironMgL: 0.3 })).toBeGreaterThan(lifeLitres(part, carries));
    expect(recommended(input({ ...well, laboratory: 'clean', ironMgL: 0.3 })).chosen.design.ironId).toBeNull();
  });
});

describe('what wears a carbon', () => {
  const block = partOf(shelf, 'carbon', 'carbon-block');
  test('is its sheet’s litres, or fewer where there is much chlorine', () => {
    const with_ = (chlorineMgL: number) => lifeLitres(block, { ironMgL: 0, disinfectant: 'chlorine', chlorineMgL });
    expect(with_(0.3)).toBe(15000);
    expect(with_(5)).toBeCloseTo((60 * 0.7 * 1000) / 5, 6);
    expect(lifeLitres(block, null)).toBe(15000);
  });
});

describe('when reverse osmosis is not the answer', () => {
  test('taste alone is answered by carbon, with what it does and does not do', () => {
    const d = decide(input({ aim: 'taste' }));
    if (d.kind !== 'other-way') throw new Error(d.kind);
    expect(d.sentence).toMatch(/carbon alone/);
    expect(d.instead.join(' ')).toMatch(/ s in the carbon; chlorine wants/);
    expect(d.instead.join(' ')).toMatch(/does not take out salt/);
  });
  test('microbes alone by disinfection, on mains by nothing at all', () => {
    expect(decide(input({ aim: 'microbes' })).sentence).toMatch(/None needed/);
    const own = decide(
      input({ aim: 'microbes', source: 'well', laboratory: 'clean', switchLowBar: 2, switchHighBar: 3 }),
    );
    expect(own.sentence).toMatch(/disinfection that is wanted/);
  });
  test.each([
    ['nitrate above the guideline', { nitrateMgL: 51 }],
    ['salt that is tasted', { feedTdsMgL: 1001 }],
    ['a worry carbon does not answer', { worry: 'arsenic' }],
    ['one of several worries', { worry: 'fluoride,microbes' }],
  ] as const)('%s speaks for it whatever they asked', (_, change) => {
    expect(decide(input({ aim: 'taste', ...change })).kind).not.toBe('other-way');
  });
  test('microbes in the report go before the taste: carbon alone is neither advised nor approved', () => {
    const d = decide(
      input({
        source: 'well',
        switchLowBar: 2.2,
        switchHighBar: 3.6,
        disinfectant: 'none',
        chlorineMgL: 0,
        aim: 'taste',
        laboratory: 'unsafe',
      }),
    );
    if (d.kind !== 'other-way') throw new Error(d.kind);
    expect(d.sentence).toMatch(/^Disinfection first/);
    expect(d.system?.choice.picks.some((c) => c.kind === 'lamp') ?? false).toBe(d.system !== null);
  });
  test('a private well without a report is referred before anything is said of taste', () => {
    expect(decide(input({ aim: 'taste', source: 'well', laboratory: 'none' })).kind).toBe('referral');
  });
});

describe('a fridge', () => {
  test('is told down to which content it is served, and that the refill has begun by then', () => {
    const d = recommended(input({ fridge: 'yes', fridgeMinBar: 0.7 }));
    expect(d.reasons.join(' ')).toMatch(
      /The fridge sees [\d.]+ bar from a full tank; its valve wants 0.70. It is served until [\d.]+ L are left in it; the refill has begun/,
    );
    expect(d.chosen.design.deliveryPumpId).toBeNull();
  });
  test('that runs short before the shut-off reopens gets a delivery pump; without a socket it is told what starts the refill', () => {
    const wants = { fridge: 'yes', fridgeMinBar: 2.1, metalAfter: 'no' } as const;
    expect(recommended(input(wants)).chosen.design.deliveryPumpId).toBe('delivery-pump');
    const i = input({ ...wants, socket: 'no' });
    const d = recommended(i);
    const [service] = branchService(d.chosen, siteOf(i), shelf);
    if (!service) throw new Error('there is a fridge');
    expect(service.deadlock).toBe(true);
    // it opens from a full tank, and no longer where the valve that starts the refill opens
    const tank = partOf(shelf, 'tank', d.chosen.design.tankId ?? '');
    const at = (litres: number) =>
      branchBar(
        { outlet: 'fridge', minBar: 1.7, flowLMin: 0.5 },
        d.chosen.design,
        shelf,
        siteOf(i),
        pressureAtWaterBar(tank, litres),
        d.chosen.worst.temperatureC,
      );
    expect(at(service.servedToL)).toBeCloseTo(2.1, 6);
    expect(at(service.reopenL)).toBeLessThan(2.1);
    expect(d.reasons.join(' ')).toMatch(/nothing starts the refill until somebody draws at the tap/);
  });
  test('that wants more than a full tank gives gets a delivery pump, without a socket it is refused', () => {
    const i = input({ fridge: 'yes', fridgeMinBar: 2.8 });
    const d = recommended(i);
    expect(d.chosen.design.deliveryPumpId).toBe('delivery-pump');
    const line = systemOf(d.chosen.design);
    expect(
      alongTheWater(line)
        .filter((e) => branchOf(e) === 'fridge')
        .map((e) => e.kind),
    ).toEqual(['delivery-pump', 'fridge']);
    expect(systemFaults(line)).toEqual([]);
    const bare = { ...d.chosen.design, deliveryPumpId: null };
    expect(evaluate(bare, shelf, siteOf(i), rules).failures.map((f) => f.code)).toContain('fridge-too-weak');
    const bar = (tankBar: number) =>
      branchBar({ outlet: 'fridge', minBar: 2.8, flowLMin: 0.5 }, d.chosen.design, shelf, siteOf(i), tankBar, 8);
    expect(bar(2)).toBeCloseTo(bar(1) + 1, 9);
    // a fridge further off and higher up sees less
    const far = siteOf(input({ fridge: 'yes', fridgeMinBar: 2.8, fridgeLengthM: 12, fridgeRiseM: 2 }));
    const there = branchBar({ outlet: 'fridge', minBar: 2.8, flowLMin: 0.5 }, d.chosen.design, shelf, far, 2, 8);
    expect(bar(2) - there).toBeGreaterThan(0.2);
    const cut = systemOf(d.chosen.design, far).links.find((l) => l.to.component === 'fridge');
    expect(cut).toMatchObject({ lengthM: 12, riseM: 2 });
    const none = decide(input({ fridge: 'yes', fridgeMinBar: 3.5, socket: 'no' }));
    expect(none.kind).toBe('nothing-fits');
  });
  test('is not served without a tank', () => {
    const d = decide(input({ ...noTank, fridge: 'yes' }));
    expect(JSON.stringify(d)).toContain('a fridge takes small sips');
  });
});

describe('house rules and habits', () => {
  test('a firm that puts nothing in unpumped below its line gets a pump there', () => {
    const low = { runningPressureBar: 2.9, staticPressureBar: 3.2 };
    expect(recommended(input(low)).chosen.design.pumpId).toBeNull();
    expect(recommended(input(low, { unpumpedMinBar: 3 })).chosen.design.pumpId).not.toBeNull();
    expect(
      recommended(input({ ...low, runningPressureBar: 3 }, { unpumpedMinBar: 3 })).chosen.design.pumpId,
    ).toBeNull();
  });
  test('the brisker the household, the less of a tank counts as usable', () => {
    const usable = (patience: string) => recommended(input({ patience })).chosen;
    const design = usable('patient').design;
    // the tank's own air already pushes as hard as a short way to the tap asks: a far one shows the difference
    const far = { tapLengthM: 12, tapRiseM: 2 };
    const at = (patience: string) => evaluate(design, shelf, siteOf(input({ patience, ...far })), rules).worst.usableL;
    expect(at('brisk')).toBeLessThan(at('ordinary'));
    expect(at('ordinary')).toBeLessThan(at('patient'));
  });
  test('a retired part is not put in again, but a design that has it is still worked out', () => {
    const d = recommended(input());
    const retired = shelf.map((p) => (p.id === d.chosen.design.elementId ? { ...p, retired: true } : p));
    const i = { ...input(), catalogue: retired };
    expect(recommended(i).chosen.design.elementId).not.toBe(d.chosen.design.elementId);
    expect(viewSystem(i, { design: d.chosen.design }).ok).toBe(true);
  });
});
