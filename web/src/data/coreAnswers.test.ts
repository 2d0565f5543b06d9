import { beforeAll, describe, expect, test } from '@jest/globals';
import type { KeptDecision } from '@katharos/contract';
import { CORE_VERSION, decide, readJob } from '@katharos/core';
import { house, rules, shelf } from '@katharos/core/testing';
import { readings } from '../testing/jobContext.tsx';
import { decided } from '@katharos/core/testing/decided';
import { core as worker } from './coreAnswers.ts';

/** As it comes over the wire. */
const sent = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

describe('what is decided before the page has come', () => {
  const facts = readings();
  const { known } = readJob(facts);
  beforeAll(() => {
    worker.setShelf('1', sent(shelf), sent(rules));
    worker.prefetchDecision(sent({ facts, designs: [] }), sent({ parts: shelf, rules, stamp: 'one' }), null);
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

describe('what the server decided', () => {
  const known = { ...readJob(readings()).known, runningPressureBar: 2.2 };
  // another house's, to be known again
  const elsewhere = decided({ known: house, catalogue: shelf, rules });
  const kept = (other: Partial<KeptDecision> = {}): KeptDecision =>
    sent({
      known,
      placed: {},
      standing: null,
      stamp: 'one',
      coreVersion: CORE_VERSION,
      decision: elsewhere,
      beside: null,
      ...other,
    });
  const own = decide({ known, catalogue: shelf, rules });
  beforeAll(() => {
    worker.setShelf('1', sent(shelf), sent(rules));
  });

  test('is what the page is told, where it was decided from the same', () => {
    worker.setKept('1', kept(), 'one');
    expect(worker.decide('1', known)).toEqual(elsewhere);
    const other = { ...known, people: 9 };
    expect(worker.decide('1', other)).toEqual(decide({ known: other, catalogue: shelf, rules }));
    expect(worker.decide('1', other)).not.toEqual(elsewhere);
  });

  test('is passed over where the shelf, the core, the cupboard or what was approved is another', () => {
    const strange: readonly (readonly [KeptDecision, string])[] = [
      [kept(), 'two'],
      [kept({ stamp: '' }), ''],
      [kept({ coreVersion: '0.0.1' }), 'one'],
      [kept({ placed: { disposal: null } as never }), 'one'],
      [kept({ standing: { kind: 'filters' } as never }), 'one'],
    ];
    worker.setKept('1', kept({ known: house }), 'one');
    for (const [k, stamp] of strange) {
      worker.setKept('1', k, stamp);
      expect(worker.decide('1', known)).toEqual(own);
    }
  });

  test('is taken up by a page that has not come yet, and not worked out there', () => {
    const facts = readings();
    const decision = { ...elsewhere, sentence: 'As the server has it.' };
    const k = kept({ known: readJob(facts).known, decision });
    worker.prefetchDecision(sent({ facts, designs: [] }), sent({ parts: shelf, rules, stamp: 'one' }), k);
    expect(worker.decide('1', sent(readJob(facts).known)).sentence).toBe('As the server has it.');
  });
});

test('a shelf that was never sent is an error, not an answer', () => {
  expect(() => worker.decide('none', house)).toThrow();
});
