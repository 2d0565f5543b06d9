import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import {
  CatalogueSchema,
  decide,
  FactSchema,
  HouseRulesSchema,
  isClear,
  isDone,
  layoutOf,
  proposeLayout,
  prove,
  plainReadings,
  readJob,
  roomOf,
  judgedSite,
  laboratoryAsks,
  type Decision,
} from '@katharos/core';
import { describe, expect, test } from '@jest/globals';
import * as z from 'zod';
import { buildDemo, DEMO_PEOPLE, shippedFirm, type DemoJob } from './index.ts';
import { FIRM_MADE_AT } from './firm.ts';
import { TOWN_HOUSES } from './years/town.ts';
import { uuidOf } from './ids.ts';

const file = (name: string): unknown =>
  JSON.parse(readFileSync(new URL(`../../shelf/${name}`, import.meta.url), 'utf8'));
const parts = CatalogueSchema.parse(file('parts.json'));
const rules = HouseRulesSchema.parse(file('house-rules.json'));
const NOW = FIRM_MADE_AT;
const folder = fileURLToPath(new URL('..', import.meta.url));
const jobs = buildDemo(parts, rules, NOW);
const job = (name: string): DemoJob => {
  const j = jobs.find((x) => x.household.name.startsWith(name));
  if (!j) throw new Error(name);
  return j;
};
const read = (name: string) => {
  const { known, placed } = readJob(job(name).facts);
  return { known, placed };
};
const decisionOf = (name: string): Decision => decide({ ...read(name), catalogue: parts, rules });
const designOf = (name: string) => {
  const d = decisionOf(name);
  if (d.kind !== 'recommendation') throw new Error(d.sentence);
  return d.chosen.design;
};
/** Another engine's powers and logarithms may differ in a figure's last digit. */
const toTwelveDigits = (told: unknown): unknown =>
  JSON.parse(JSON.stringify(told), (_, value: unknown) =>
    typeof value === 'number' ? Number(value.toPrecision(12)) : value,
  );

describe('the demo firm', () => {
  test('is the same whenever it is built, with ids that are UUIDs and stand once', () => {
    // what is shipped is what is worked out: else npm run demo:firm
    expect(toTwelveDigits(shippedFirm(folder, NOW))).toEqual(toTwelveDigits(jobs));
    const later = shippedFirm(folder, NOW + 86400000);
    expect(Date.parse(later[0]?.facts[0]?.at ?? '') - Date.parse(jobs[0]?.facts[0]?.at ?? '')).toBe(86400000);
    const ids = [
      ...DEMO_PEOPLE.map((p) => p.id),
      ...jobs.flatMap((j) => [j.jobId, j.household.id, ...j.facts.map((f) => f.id), ...j.designs.map((d) => d.id)]),
    ];
    expect(new Set(ids).size).toBe(ids.length);
    for (const id of ids) expect(z.uuid().safeParse(id).success).toBe(true);
    expect(uuidOf('a')).not.toBe(uuidOf('b'));
  });
  test('is made of facts as anybody’s, none in the future', () => {
    for (const j of jobs)
      for (const f of j.facts) {
        expect(FactSchema.safeParse(f).success).toBe(true);
        expect(Date.parse(f.at)).toBeLessThanOrEqual(NOW);
      }
  });
  test('lays its cupboards out: round a disposal unit, round a bin, into the next cupboard, into the cellar; or nothing goes in', () => {
    const laidOut = (name: string) => {
      const { facts, designs } = job(name);
      const record = readJob(facts, designs[0]);
      const room = roomOf(record.known, record.placed);
      const system = designs[0]?.system;
      if (!room || !system) throw new Error(`${name} is not measured`);
      return { room, system, ...layoutOf(system, room, record.stands) };
    };
    for (const [name, thing] of [
      ['Chalkpit', 'disposal'],
      ['Highmoor', 'bin'],
    ] as const) {
      const l = laidOut(name);
      expect(l.room.obstacles.map((o) => o.thing)).toContain(thing);
      expect(isClear(l.clashes)).toBe(true);
      expect(l.unplaced).toEqual([]);
    }
    const { system, room } = laidOut('Saltern');
    expect(proposeLayout(system, { ...room, second: null }).unplaced.length).toBeGreaterThan(0);
    const next = proposeLayout(system, room);
    expect(next.unplaced).toEqual([]);
    expect(Object.values(next.stands).some((p) => p.space === 'second')).toBe(true);
    const cellar = laidOut('Cooper');
    const below = proposeLayout(cellar.system, cellar.room);
    expect(below.unplaced).toEqual([]);
    expect(below.walledIn).toBe(0);
    expect(Object.values(below.stands).every((p) => p.space === 'second')).toBe(true);
    expect(decisionOf('Kiln')).toMatchObject({
      kind: 'nothing-fits',
      because: expect.arrayContaining(['no-room']) as unknown,
    });
  });
  test('has houses that differ in what decides', () => {
    expect(designOf('Alder')).toMatchObject({ ironId: 'iron-cartridge', lampId: expect.any(String) });
    expect(designOf('Gable').tankId).toBeNull();
    expect(designOf('Tollgate').tankId).not.toBeNull();
    expect(decisionOf('Ropewalk').kind).toBe('other-way');
    expect(decisionOf('Fenmill').kind).toBe('referral');
    expect(designOf('Lantern').pumpId).not.toBeNull();
    expect(designOf('Chalkpit')).toMatchObject({ mineralId: 'mineral-large', fridge: true });
    expect(designOf('Saltern')).toMatchObject({ tapId: 'tap-air-gap' });
    expect(designOf('Saltern').pumpId ?? designOf('Saltern').permeatePumpId).not.toBeNull();
    expect(designOf('Highmoor')).toMatchObject({ limiterId: 'limiter-4', pumpId: null });
    expect(decisionOf('Fenmill').kind).toBe('referral');
    expect(decisionOf('Weir').kind).toBe('needs');
  });
  test('what was typed says what was stored', () => {
    const reading = job('Lantern').facts.find((f) => f.kind === 'reading' && f.field === 'staticPressureBar');
    expect(reading).toMatchObject({ typed: '28 psi', value: 1.93 });
  });
  test('one house is in the middle of its first fill, its clock running', () => {
    const record = readJob(job('Chalkpit').facts);
    expect(Object.keys(record.timers)).toEqual(['fill-1']);
    expect(Date.parse(record.timers['fill-1']?.dueAt ?? '')).toBeGreaterThan(NOW);
    expect([isDone(record, 'look-ten'), isDone(record, 'drain-1')]).toEqual([true, false]);
  });
  test('one house waits for a drip to be looked at again, one was mended between two proofs', () => {
    const looks = Object.values(readJob(job('Sluice').facts).looks['look-pressure'] ?? {});
    expect(looks.map((l) => l.result).sort()).toEqual(['drip', ...looks.slice(1).map(() => 'dry')].sort());
    const [found, after, baseline] = readJob(job('Heron').facts).proofs;
    expect([found?.judged?.grade, after?.judged?.grade, baseline?.judged?.grade]).toEqual(['act', 'good', 'good']);
    expect(after?.mended?.proof).toBe(found?.id);
  });
  test('three years show an element ageing: flow falls, salt passage rises, and a cold visit is no fault', () => {
    const moor = job('Highmoor');
    const version = moor.designs[0];
    const record = readJob(moor.facts);
    const site = version && judgedSite(version.judged);
    if (!version || !site) throw new Error('no design');
    const verdicts = record.proofs.map((p) => {
      const r = prove(plainReadings(p.readings), version.system, site, rules.meterError);
      if (!r.ok) throw new Error('incomplete');
      return r.verdict;
    });
    const first = verdicts[0];
    const last = verdicts.at(-1);
    expect(first?.grade).toBe('good');
    expect(last?.flowAgainstNew).toBeLessThan((first?.flowAgainstNew ?? 0) - 0.1);
    expect(last?.passageAgainstNew).toBeGreaterThan((first?.passageAgainstNew ?? 0) + 0.15);
    const cold = record.proofs.findIndex((p) => p.readings.temperatureC?.value === 4);
    expect(verdicts[cold]?.grade).not.toBe('act');
  });
  test('has its visits to come at the hours they were planned for, whenever it is loaded', () => {
    const folder = new URL('..', import.meta.url).pathname;
    for (const hour of [1, 9, 14, 23]) {
      const now = NOW + 40 * 86_400_000 + (hour - 10) * 3_600_000;
      const visits = shippedFirm(folder, now).slice(-TOWN_HOUSES).flatMap((j) => readJob(j.facts).visits.filter((v) => v.toChange !== undefined));
      const hours = visits.map((v) => new Date(v.on ?? '').getUTCHours());
      expect(Math.min(...hours)).toBeGreaterThanOrEqual(9);
      expect(Math.max(...hours)).toBeLessThanOrEqual(13);
      expect(visits.every((v) => Date.parse(v.on ?? '') > now)).toBe(true);
    }
  });
  test('has sixty households, looked after for up to four years by two who drive, with a coming week that is full', () => {
    expect(jobs).toHaveLength(60);
    const town = jobs.slice(-TOWN_HOUSES);
    const proofs = town.flatMap((j) => readJob(j.facts).proofs);
    const oldest = Math.min(...proofs.map((p) => Date.parse(p.at)));
    expect((NOW - oldest) / 86_400_000).toBeGreaterThan(1400);
    expect(proofs.length).toBeGreaterThan(250);
    expect(new Set(town.flatMap((j) => j.facts.map((f) => f.by))).size).toBe(2);
    const planned = town.flatMap((j) => readJob(j.facts).visits.filter((v) => v.toChange !== undefined));
    const days = planned.map((v) => Math.floor((Date.parse(v.on ?? '') - NOW) / 86_400_000));
    for (const day of [1, 2, 3, 4, 5]) expect(days.filter((d) => d === day).length).toBeGreaterThan(2);
    expect(new Set(planned.map((v) => v.fitter)).size).toBe(2);
    expect(planned.every((v) => (v.toChange?.length ?? 0) > 0)).toBe(true);
  });
  test('lived them in time: membranes die, one delivery fast, the water is coldest in February, and everything else happens once', () => {
    const town = jobs.slice(-TOWN_HOUSES);
    const fitted = town.flatMap((j) => j.facts.filter((f) => f.kind === 'fitted').map((f) => ({ j, f })));
    const spent = (batch: RegExp): number => {
      const of = fitted.filter(({ f }) => batch.test(f.serial) && NOW - Date.parse(f.at) > 500 * 86_400_000);
      const gone = of.filter(({ j, f }) => readJob(j.facts).visits.some((v) => v.at > f.at && v.changed.includes(f.component)));
      return gone.length / of.length;
    };
    expect(spent(/^E-4417/)).toBeGreaterThan(0.7);
    expect(spent(/^E-31/)).toBeLessThan(0.3);
    const cold: number[] = [], warm: number[] = [];
    for (const j of town)
      for (const p of readJob(j.facts).proofs) {
        const month = new Date(p.at).getUTCMonth();
        const t = p.readings.temperatureC?.value ?? 0;
        if (month === 1) cold.push(t);
        if (month === 7) warm.push(t);
      }
    const mean = (all: number[]): number => all.reduce((s, x) => s + x, 0) / all.length;
    expect(mean(cold)).toBeLessThan(mean(warm) - 4);
    const events = town.flatMap((j) => readJob(j.facts).happened.map((h) => h.event));
    for (const one of ['new-owner', 'adopted', 'taken-out', 'away', 'frost'] as const)
      expect(events.filter((e) => e === one)).toHaveLength(1);
    expect(events.filter((e) => e === 'boil-notice').length).toBeGreaterThan(2);
    // one laboratory has answered and is asked again, one is late
    const asks = town.flatMap((j) => laboratoryAsks(readJob(j.facts)));
    expect(asks.map((a) => Date.parse(a.from) < NOW).sort()).toEqual([false, true]);
  });
}); // oxfmt-ignore
