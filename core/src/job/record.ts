import type { Draw } from '../demand/draws.ts';
import type { FieldKey, Known } from '../gauge/fields.ts';
import { FIELD_KEYS } from '../gauge/fields.ts';
import type { Fact, FactOf, ReadingFact } from './facts.ts';

/** A running or ended wait. */
export interface TimerState {
  readonly step: string;
  readonly startedAt: string;
  readonly dueAt: string;
  readonly by: string;
}

/** What a job's facts amount to. */
export interface JobRecord {
  /** the reading in use of each field */
  readonly readings: Partial<Record<FieldKey, ReadingFact>>;
  /** every reading of a field that still counts, oldest first */
  readonly taken: Partial<Record<FieldKey, readonly ReadingFact[]>>;
  /** why one of several is in use, where somebody chose */
  readonly uses: Partial<Record<FieldKey, FactOf<'use'>>>;
  /** doubts somebody looked at, with the reason, by code */
  readonly dismissed: Readonly<Record<string, FactOf<'dismiss'>>>;
  readonly known: Known;
  readonly ticks: Readonly<Record<string, FactOf<'tick'>>>;
  readonly timers: Readonly<Record<string, TimerState>>;
  /** latest look at each joint in each round: round -> joint number -> fact */
  readonly looks: Readonly<Record<string, Readonly<Record<number, FactOf<'look'>>>>>;
  readonly proofs: readonly FactOf<'proof'>[];
  readonly visits: readonly FactOf<'visit'>[];
  readonly notes: readonly FactOf<'note'>[];
  /** the household's day as somebody drew it; null where the usual one is taken */
  readonly habits: readonly Draw[] | null;
  readonly colours: Partial<Record<FactOf<'tube-colour'>['branch'], string>>;
}

/** Facts in the order they happened; the id settles a tie, so that every machine reads the same. */
export function inOrder<T extends { at: string; id: string }>(facts: readonly T[]): T[] {
  return [...facts].sort((a, b) => Date.parse(a.at) - Date.parse(b.at) || a.id.localeCompare(b.id));
}

/** Reads a job out of its facts. A fact named by another's `corrects` no longer counts; the last one of a kind is in use. */
export function readJob(facts: readonly Fact[]): JobRecord {
  const corrected = new Set(facts.flatMap((f) => (f.kind === 'reading' && f.corrects ? [f.corrects] : [])));
  const readings: Partial<Record<FieldKey, ReadingFact>> = {};
  const taken: Partial<Record<FieldKey, ReadingFact[]>> = {};
  const uses: Partial<Record<FieldKey, FactOf<'use'>>> = {};
  const dismissed: Record<string, FactOf<'dismiss'>> = {};
  const ticks: Record<string, FactOf<'tick'>> = {};
  const timers: Record<string, TimerState> = {};
  const looks: Record<string, Record<number, FactOf<'look'>>> = {};
  const proofs: FactOf<'proof'>[] = [];
  const visits: FactOf<'visit'>[] = [];
  const notes: FactOf<'note'>[] = [];
  let habits: readonly Draw[] | null = null;
  const colours: Partial<Record<FactOf<'tube-colour'>['branch'], string>> = {};
  for (const f of inOrder(facts)) {
    switch (f.kind) {
      case 'reading':
        if (corrected.has(f.id)) break;
        readings[f.field] = f;
        if (f.value !== null) taken[f.field] = [...(taken[f.field] ?? []), f];
        break;
      case 'use':
        uses[f.field] = f;
        break;
      case 'dismiss':
        if (f.reason === '') Reflect.deleteProperty(dismissed, f.doubt);
        else dismissed[f.doubt] = f;
        break;
      case 'tick':
        ticks[f.step] = f;
        break;
      case 'timer':
        if (f.action === 'start')
          timers[f.step] = {
            step: f.step,
            startedAt: f.at,
            dueAt: new Date(Date.parse(f.at) + f.minutes * 60000).toISOString(),
            by: f.by,
          };
        else Reflect.deleteProperty(timers, f.step);
        break;
      case 'look':
        looks[f.round] = { ...looks[f.round], [f.joint]: f };
        break;
      case 'proof':
        proofs.push(f);
        break;
      case 'visit':
        visits.push(f);
        break;
      case 'note':
        notes.push(f);
        break;
      case 'habits':
        habits = f.draws.length > 0 ? f.draws : null;
        break;
      case 'tube-colour':
        colours[f.branch] = f.colour;
    }
  }
  // of several readings of a field the chosen one is in use, as long as it still counts
  for (const [field, use] of Object.entries(uses) as [FieldKey, FactOf<'use'>][]) {
    const chosen = taken[field]?.find((f) => f.id === use.reading);
    if (chosen) readings[field] = chosen;
    else Reflect.deleteProperty(uses, field);
  }
  const known: Known = {};
  for (const k of FIELD_KEYS) {
    const v = readings[k]?.value;
    if (v !== undefined && v !== null) known[k] = v;
    else Reflect.deleteProperty(readings, k);
  }
  return { readings, taken, uses, dismissed, known, ticks, timers, looks, proofs, visits, notes, habits, colours };
}

/** Whether a step stands ticked. */
export function isDone(record: JobRecord, step: string): boolean {
  return record.ticks[step]?.done === true;
}
