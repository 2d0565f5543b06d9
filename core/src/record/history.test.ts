import { expect, test } from '@jest/globals';
import {
  FACT_VERSION,
  FactSchema,
  historyOf,
  jointsOf,
  jointStep,
  makeVersion,
  type Fact,
  type NewFact,
} from '../index.ts';
import { house, rules, shelf, usual } from '../testing/fixtures.ts';

const by = '5f0c4b1e-2222-4222-a222-000000000002';
let serial = 0;
const fact = (minute: number, f: NewFact): Fact =>
  FactSchema.parse({
    v: FACT_VERSION,
    ...f,
    id: `5f0c4b1e-3333-4333-a333-${String(++serial).padStart(12, '0')}`,
    jobId: '5f0c4b1e-1111-4111-a111-000000000001',
    by,
    at: new Date(Date.parse('2026-05-01T09:00:00.000Z') + minute * 60000).toISOString(),
  });
let born = 0;
const version = makeVersion(
  { known: house, catalogue: shelf, rules },
  { design: usual },
  {
    id: '5f0c4b1e-4444-4444-a444-000000000001', at: '2026-05-01T08:00:00.000Z', by, reason: 'as advised', against: '', before: null,
    newId: () => `thing-${String(born++)}`,
  },
); // oxfmt-ignore
const design = version.id;
const joints = jointsOf(version.system);
const words = (facts: Fact[]): string[] => historyOf(facts, [version]).map((l) => l.words);

test('many small things of a day are one line; what stands out is a line of its own', () => {
  const made = joints.map((j, i) => fact(i, { kind: 'tick', design, step: jointStep(j.id), done: true }));
  const first = joints[0]?.id ?? '';
  const dry = joints.map((j, i) => fact(100 + i, { kind: 'look', design, round: 'look-pressure', joint: j.id, result: 'dry' })); // oxfmt-ignore
  const drip = fact(90, { kind: 'look', design, round: 'look-pressure', joint: first, result: 'drip', note: 'a bead' });
  const lines = historyOf([...made, ...dry, drip], [version]);
  expect(lines.map((l) => l.words)).toEqual([
    `${String(joints.length)} joints looked at, dry`,
    expect.stringMatching(/^joint 1, .* drips: a bead$/),
    `${String(joints.length)} joints made`,
    'Version 1 approved: as advised',
  ]);
  expect(lines.map((l) => l.marked)).toEqual([false, true, false, false]);
  // one that says more than dry is not lost among the others
  const said = fact(200, {
    kind: 'look',
    design,
    round: 'look-pressure',
    joint: first,
    result: 'dry',
    note: 'taped anew',
  });
  expect(words([...dry, said])[0]).toMatch(/^joint 1, .* dry: taped anew$/);
  // on another day they are another line
  expect(words([...made, fact(2000, { kind: 'tick', design, step: jointStep(first), done: true })])).toHaveLength(3);
});

test('what was taken back stays, and says what it was and why', () => {
  const visit = fact(1, { kind: 'visit', design, reason: 'Half-year change', changed: [version.system.components.find((c) => c.kind === 'sediment')?.id ?? ''] }); // oxfmt-ignore
  const back = fact(2, { kind: 'taken-back', corrects: visit.id, reason: 'another house' });
  expect(words([visit, back]).slice(0, 2)).toEqual([
    'Taken back (Visit: Half-year change; changed sediment): another house',
    'Visit: Half-year change; changed sediment',
  ]);
});

test('a visit stands at its own day, not at the day it was written down', () => {
  const late = fact(5000, { kind: 'visit', design, on: '2026-04-20T12:00:00.000Z', reason: 'Looked at', changed: [] });
  const reading = fact(1, { kind: 'reading', field: 'feedTdsMgL', value: 430, typed: '430 mg/L', instrument: 'pen A' });
  expect(words([late, reading])).toEqual(['Feed TDS: 430 mg/L, pen A', 'Version 1 approved: as advised', 'Visit: Looked at']);
}); // oxfmt-ignore
