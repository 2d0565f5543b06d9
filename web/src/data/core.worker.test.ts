import { beforeAll, describe, expect, jest, test } from '@jest/globals';
import { decide, readJob, type Catalogue, type Decision, type HouseRules, type Known } from '@katharos/core';
import { house, rules, shelf } from '@katharos/core/testing';
import { readings } from '../testing/jobContext.tsx';

interface Worker {
  prefetchDecision: (job: unknown, shelf: unknown) => void;
  setShelf: (key: string, catalogue: Catalogue, rules: HouseRules) => void;
  decide: (key: string, known: Known) => Decision;
}
let worker!: Worker;
/** As it comes over the wire. */
const sent = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

beforeAll(async () => {
  jest.unstable_mockModule('comlink', () => ({
    expose: (w: Worker) => {
      worker = w;
    },
  }));
  await import('./core.worker.ts');
});

describe('what is decided before the page has come', () => {
  const facts = readings();
  const { known } = readJob(facts);
  beforeAll(() => {
    worker.setShelf('1', sent(shelf), sent(rules));
    worker.prefetchDecision(sent({ facts, designs: [] }), sent({ parts: shelf, rules }));
  });

  test('is what the page would have been told, and is not worked out again', () => {
    const first = worker.decide('1', sent(known));
    expect(first).toEqual(decide({ known, catalogue: shelf, rules }));
    expect(worker.decide('1', sent(known))).toBe(first);
  });

  test('holds for these readings only', () => {
    const other = { ...known, runningPressureBar: 1.5, staticPressureBar: 1.8 };
    const told = worker.decide('1', other);
    expect(told).toEqual(decide({ known: other, catalogue: shelf, rules }));
    expect(told.sentence).not.toBe(worker.decide('1', known).sentence);
    const unread = readJob(facts.filter((f) => f.kind !== 'reading' || f.field !== 'feedTdsMgL')).known;
    expect(worker.decide('1', unread)).not.toBe(worker.decide('1', known));
  });

  test('holds for these parts and rules only', () => {
    const strict = { ...rules, spareCapacity: rules.spareCapacity + 1 };
    worker.setShelf('2', sent(shelf), strict);
    expect(worker.decide('2', known)).toEqual(decide({ known, catalogue: shelf, rules: strict }));
    worker.setShelf('3', shelf.slice(1), sent(rules));
    expect(worker.decide('3', known)).not.toBe(worker.decide('1', known));
  });
});

test('a shelf that was never sent is an error, not an answer', () => {
  expect(() => worker.decide('none', house)).toThrow();
});
