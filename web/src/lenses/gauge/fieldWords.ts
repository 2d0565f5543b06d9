import dayjs from 'dayjs';
import {
  choiceWords,
  choiceOf,
  formatReading,
  gaugeField,
  shownUnit,
  type Assumed,
  type FieldKey,
  type Known,
} from '@katharos/core';
import { nowMs } from '../../ui/clock.ts';

/** When a reading was taken: the hour today, the day this year, else the year too. */
export function shortDate(at: string): string {
  const d = dayjs(at);
  const now = dayjs(nowMs());
  return d.format(d.isSame(now, 'day') ? 'HH:mm' : d.isSame(now, 'year') ? 'D MMM' : 'D MMM YYYY');
}

/** The id of a field's input, so that it can be gone to. */
export const fieldId = (field: FieldKey): string => `gauge-${field}`;

/** Fields that only some sources have. */
export function fieldVisible(key: FieldKey, known: Known): boolean {
  const source = choiceOf(known, 'source');
  const isPrivate = source === 'well' || source === 'surface' || source === 'rain';
  switch (key) {
    case 'laboratory':
    case 'ironMgL':
    case 'manganeseMgL':
    case 'turbidityNTU':
    case 'smell':
      return isPrivate || known[key] !== undefined;
    case 'switchLowBar':
    case 'switchHighBar':
      return source === 'well' || known[key] !== undefined;
    case 'fridgeMinBar':
    case 'fridgeLengthM':
    case 'fridgeRiseM':
      return choiceOf(known, 'fridge') === 'yes' || known[key] !== undefined;
    case 'secondWidthMm':
    case 'secondDepthMm':
    case 'secondHeightMm':
    case 'wayLengthM':
    case 'wayRiseM':
      return (choiceOf(known, 'standsWhere') ?? 'cupboard') !== 'cupboard' || known[key] !== undefined;
    case 'secondSide':
      return choiceOf(known, 'standsWhere') === 'beside' || known[key] !== undefined;
    case 'highestPressureBar':
      return source !== 'well' || known[key] !== undefined;
    default:
      return true;
  }
}

/** An assumed value with its unit, or its option's name. */
export function assumedWords(a: Assumed): string {
  const f = gaugeField(a.field);
  if (f.type === 'choice') return choiceWords(f, a.value);
  if (a.field === 'runningFlowLMin') return '15 mm pipe';
  return `${formatReading(Number(a.value))} ${shownUnit(f.kind)}`.trim();
}
