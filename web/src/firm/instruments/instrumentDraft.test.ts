import { describe, expect, test } from '@jest/globals';
import type { Instrument } from '@katharos/core';
import { asWhat, draftOf, freshReads, inUnit, readDraft } from './instrumentDraft.ts';

const ID = '5f0c4b1e-7777-4777-a777-000000000009';
const gauge: Instrument = {
  id: ID,
  name: 'gauge A',
  what: 'gauge',
  reads: [{ kind: 'pressure', unit: 'psi', min: 0, max: 6.894757, errorFixed: 0.0689476, errorShare: 0.01 }],
  checkEveryDays: 365,
  checks: [],
  address: null,
};
const told = (draft: ReturnType<typeof draftOf>, base: Instrument | null = null): Instrument => {
  const r = readDraft(draft, base, ID);
  if ('faults' in r) throw new Error(JSON.stringify(r.faults));
  return r.instrument;
};
const faults = (draft: ReturnType<typeof draftOf>): Readonly<Record<string, string>> => {
  const r = readDraft(draft, null, ID);
  return 'faults' in r ? r.faults : {};
};

describe('an instrument as it is typed', () => {
  test('stands in the unit it shows, and reads back as it was', () => {
    const draft = draftOf(gauge);
    expect(draft.reads[0]).toEqual({
      kind: 'pressure',
      unit: 'psi',
      min: '0',
      max: '100',
      errorFixed: '1',
      errorShare: '1',
    });
    const back = told(draft, gauge);
    expect(back).toMatchObject({ id: ID, name: 'gauge A', checkEveryDays: 365, address: null });
    expect(back.reads[0]?.max).toBeCloseTo(6.894757, 5);
    expect(back.reads[0]?.errorFixed).toBeCloseTo(0.0689476, 6);
  });
  test('keeps its checks, its retirement and what else nobody typed', () => {
    const old = { ...gauge, retired: true, checks: [{ at: '2026-01-01T00:00:00.000Z', by: ID, kind: 'pressure', reference: 3, read: 3 }] } as Instrument; // oxfmt-ignore
    expect(told({ ...draftOf(old), name: 'gauge B' }, old)).toMatchObject({
      name: 'gauge B',
      retired: true,
      checks: old.checks,
    });
    expect(told({ ...draftOf({ ...gauge, tdsFactor: 0.5 }), tdsFactor: '' }, { ...gauge, tdsFactor: 0.5 })).not.toHaveProperty('tdsFactor'); // oxfmt-ignore
  });
  test('takes a decimal comma and any unit of the kind', () => {
    const draft = draftOf(gauge);
    const reads = told({
      ...draft,
      reads: [{ ...freshReads('pressure'), unit: 'psi', max: '10 bar', errorFixed: '0,5' }],
    }).reads[0];
    expect(reads).toMatchObject({ unit: 'psi', max: 10 });
    expect(reads?.errorFixed).toBeCloseTo(0.03447, 5);
  });
  test('an error of a degree is a degree more in its own scale’s size, without the scale’s zero', () => {
    const warm = told({ ...draftOf(null), name: 'thermometer A', reads: [{ ...freshReads('temperature'), unit: '°F', min: '32', max: '212', errorFixed: '1.8' }] }).reads[0]; // oxfmt-ignore
    expect(warm?.min).toBeCloseTo(0, 9);
    expect(warm?.max).toBeCloseTo(100, 9);
    expect(warm?.errorFixed).toBeCloseTo(1, 9);
    const celsius = inUnit(
      { ...freshReads('temperature'), unit: '°F', min: '32', max: '212', errorFixed: '1.8' },
      '°C',
    );
    expect(celsius).toMatchObject({ unit: '°C', min: '0', max: '100', errorFixed: '1' });
  });
  test('another unit turns the figures, not what is no figure or says its own unit', () => {
    expect(inUnit({ ...freshReads('pressure'), min: 'x', max: '300 kPa' }, 'psi')).toMatchObject({
      min: 'x',
      max: '300 kPa',
    });
    expect(inUnit({ ...freshReads('pressure'), max: '1' }, 'psi').max).toBe('14.5038');
  });
  test('what cannot be is told where it stands', () => {
    const draft = { ...draftOf(gauge), name: ' ' };
    expect(faults(draft).name).toMatch(/name/);
    expect(faults({ ...draft, reads: [{ ...freshReads('pressure'), max: '' }] })['reads.0.max']).toMatch(
      /Nothing typed/,
    );
    expect(faults({ ...draft, reads: [{ ...freshReads('pressure'), max: '3 L' }] })['reads.0.max']).toMatch(/measures/);
    expect(faults({ ...draft, reads: [{ ...freshReads('pressure'), min: '9', max: '9' }] })['reads.0.max']).toMatch(
      /above/,
    );
    expect(faults({ ...draft, reads: [{ ...freshReads('pressure'), unit: 'mg/L' }] })['reads.0.unit']).toMatch(
      /no unit/,
    );
    expect(
      faults({ ...draft, reads: [{ ...freshReads('pressure'), errorShare: '70' }] })['reads.0.errorShare'],
    ).toMatch(/half/);
    expect(
      faults({ ...draft, reads: [{ ...freshReads('pressure'), errorFixed: '-1' }] })['reads.0.errorFixed'],
    ).toMatch(/below/);
    expect(faults({ ...draft, checkEveryDays: 'often' }).checkEveryDays).toMatch(/number/);
    expect(faults({ ...draft, checkEveryDays: '1.5' }).checkEveryDays).toBeTruthy();
    expect(faults({ ...draft, tdsFactor: '5' }).tdsFactor).toBeTruthy();
  });
  test('what it reads follows what it is, until somebody has said it', () => {
    const pen = draftOf(null);
    expect(asWhat(pen, 'gauge').reads).toEqual([freshReads('pressure')]);
    expect(asWhat(asWhat(pen, 'gauge'), 'thermometer').reads[0]?.kind).toBe('temperature');
    const said = { ...pen, reads: [{ ...freshReads('concentration'), max: '999' }] };
    expect(asWhat(said, 'gauge').reads).toEqual(said.reads);
  });
});
