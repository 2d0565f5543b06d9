import { beforeEach, describe, expect, test } from '@jest/globals';
import { act, renderHook } from '@testing-library/react';
import * as z from 'zod';
import { unsavedChanges, useKept } from './unsavedChanges.ts';

interface Tank {
  name: string;
  litres: number;
  marks: string[];
}
const tank: Tank = { name: 'a', litres: 8, marks: ['x'] };
const kept = unsavedChanges<Tank>(
  'tank',
  z
    .object({ name: z.string(), litres: z.union([z.number(), z.string()]), marks: z.array(z.string()).default(['z']) })
    .partial(),
);
const stored = (): string | null => localStorage.getItem('katharos.draft.tank');

beforeEach(() => {
  localStorage.clear();
});

describe('what was changed and not saved', () => {
  test('is only what was changed; the rest follows the record', () => {
    kept.keep(tank, { ...tank, marks: ['x'], name: 'b' });
    expect(stored()).toBe('{"name":"b"}');
    expect(kept.over({ ...tank, litres: 12, marks: ['new'] })).toEqual({ name: 'b', litres: 12, marks: ['new'] });
  });
  test('goes when it is put back, saved or not what it should be', () => {
    kept.keep(tank, { ...tank, litres: 9 });
    kept.keep(tank, { ...tank });
    expect(stored()).toBeNull();
    kept.keep(tank, { ...tank, litres: 9 });
    kept.forget();
    expect(kept.over(tank)).toEqual(tank);
    for (const broken of ['{', '3', 'null', '{"name":7}']) {
      localStorage.setItem('katharos.draft.tank', broken);
      expect(kept.over(tank)).toEqual(tank);
    }
  });
  test('comes back half typed as it was', () => {
    const half = { ...tank, litres: '8,' as unknown as number };
    kept.keep(tank, half);
    expect(kept.over(tank)).toEqual(half);
  });
  test('a device without room still lets it be changed', () => {
    const set = Object.getOwnPropertyDescriptor(Storage.prototype, 'setItem');
    Storage.prototype.setItem = () => {
      throw new DOMException('full', 'QuotaExceededError');
    };
    try {
      const { result } = renderHook(() => useKept(kept, tank));
      act(() => {
        result.current.change({ ...tank, name: 'c' });
      });
      expect(result.current.values.name).toBe('c');
    } finally {
      if (set) Object.defineProperty(Storage.prototype, 'setItem', set);
    }
  });
});

test('a record being edited comes back over a reload, and starts over when asked', () => {
  const first = renderHook(() => useKept(kept, tank));
  act(() => {
    first.result.current.change({ ...tank, name: 'b' });
  });
  first.unmount();
  const again = renderHook(() => useKept(kept, { ...tank, litres: 10 }));
  expect(again.result.current.values).toEqual({ name: 'b', litres: 10, marks: ['x'] });
  act(() => {
    again.result.current.startOver();
  });
  expect(again.result.current.values.name).toBe('a');
  expect(stored()).toBeNull();
});
