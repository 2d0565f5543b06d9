import { readFileSync } from 'node:fs';
import type { DemoJob } from './job.ts';

/** The moment the shipped firm was made for. */
export const FIRM_MADE_AT = Date.parse('2026-12-01T10:00:00.000Z');

/** A moment that is a value, in a text that holds values. */
const MOMENT = /"(\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{3}Z)"(?!:)/g;

/** A text with every moment in it moved: it is quicker to find them there than to walk through what it holds. */
const moved = (text: string, byMs: number): string =>
  text.replace(MOMENT, (_, at: string) => `"${new Date(Date.parse(at) + byMs).toISOString()}"`);

const DAY_MS = 86_400_000;
/** The day of a moment in universal time, ms. */
const dayOf = (ms: number): number => Math.floor(ms / DAY_MS) * DAY_MS;

/** A visit to come keeps the hour it was planned for, whatever the hour the firm is loaded at. */
function atItsHour(fact: DemoJob['facts'][number], nowMs: number): DemoJob['facts'][number] {
  if (fact.kind !== 'visit' || fact.on === undefined) return fact;
  const byMs = dayOf(nowMs) - dayOf(FIRM_MADE_AT) - (nowMs - FIRM_MADE_AT);
  const onMs = Date.parse(fact.on) + byMs;
  return dayOf(onMs) > dayOf(nowMs) ? { ...fact, on: new Date(onMs).toISOString() } : fact;
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
    .map((line) => JSON.parse(moved(line, nowMs - FIRM_MADE_AT)) as DemoJob)
    .map((job) => ({ ...job, facts: job.facts.map((f) => atItsHour(f, nowMs)) }));
}
