import { readFileSync } from 'node:fs';
import type { DemoJob } from './job.ts';

/** The moment the shipped firm was made for. */
export const FIRM_MADE_AT = Date.parse('2026-12-01T10:00:00.000Z');

const MOMENT = /^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{3}Z$/;

/** A value with every moment in it moved. */
function moved(value: unknown, byMs: number): unknown {
  if (typeof value === 'string') return MOMENT.test(value) ? new Date(Date.parse(value) + byMs).toISOString() : value;
  if (Array.isArray(value)) return value.map((v) => moved(v, byMs));
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, moved(v, byMs)]));
}

/**
 * The made-up firm as it is shipped: what `npm run demo:firm` worked out once, as it would stand at a moment. Working it
 * out anew takes longer than starting everything else.
 * @param folder where firm.jsonl lies, a job a line @param nowMs ms since 1970
 */
export function shippedFirm(folder: string, nowMs: number): DemoJob[] {
  return readFileSync(`${folder}/firm.jsonl`, 'utf8')
    .trimEnd()
    .split('\n')
    .map((line) => moved(JSON.parse(line), nowMs - FIRM_MADE_AT) as DemoJob);
}
