import { expect, test } from '@jest/globals';
import { takenWithin, type DatedVisit, type Life } from '../index.ts';

const NOW = Date.parse('2026-05-04T08:00:00.000Z');
const DAY = 86_400_000;
const life = (componentId: string, kind: string, days: number): Life => ({
  componentId, kind, label: componentId, partName: componentId, partId: `part-${componentId}`, sinceMs: 0, dueMs: NOW + days * DAY,
  earlyMs: 0, lateMs: 0, by: 'calendar', used: 0.5, litresSoFar: 0, limits: [], state: 'good', why: '',
}); // oxfmt-ignore
const visit = (days: number, toChange: string[], over = false): DatedVisit => ({
  on: new Date(NOW + days * DAY).toISOString(), reason: 'Change', work: over ? [] : [{ handsMin: 30, waitMin: 0 }], brings: toChange.map((c) => `part-${c}`),
  fact: { toChange } as unknown as DatedVisit['fact'],
}); // oxfmt-ignore

test('what is planned is taken by its day, what is due and not planned by its own, and nothing twice', () => {
  const lives = [life('sediment', 'sediment', 3), life('carbon', 'carbon', 13), life('polish', 'polish', 40)];
  expect(takenWithin([{ lives, visits: [] }], NOW, 14)).toEqual({ 'part-sediment': 1, 'part-carbon': 1 });
  expect(takenWithin([{ lives, visits: [visit(2, ['sediment', 'polish'])] }], NOW, 14)).toEqual({
    'part-sediment': 1,
    'part-polish': 1,
    'part-carbon': 1,
  });
  // moved to later, it is not taken now
  expect(takenWithin([{ lives, visits: [visit(20, ['sediment', 'carbon'])] }], NOW, 14)).toEqual({});
  expect(takenWithin([{ lives, visits: [visit(-2, ['sediment'], true)] }], NOW, 14)).toEqual({
    'part-sediment': 1,
    'part-carbon': 1,
  });
});
test('a membrane only where it is planned, what is cleaned never, and houses add up', () => {
  const lives = [life('membrane', 'membrane', -5), life('vented-tank', 'vented-tank', -5)];
  expect(takenWithin([{ lives, visits: [] }], NOW, 14)).toEqual({});
  const one = { lives, visits: [visit(1, ['membrane'])] };
  expect(takenWithin([one, one], NOW, 14)).toEqual({ 'part-membrane': 2 });
}); // oxfmt-ignore
