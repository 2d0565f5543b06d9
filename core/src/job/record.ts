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
  readonly readings: Partial<Record<FieldKey, ReadingFact>>;
  readonly known: Known;
  readonly ticks: Readonly<Record<string, FactOf<'tick'>>>;
  readonly timers: Readonly<Record<string, TimerState>>;
  /** latest look at each joint in each round: round -> joint number -> fact */
  readonly looks: Readonly<Record<string, Readonly<Record<number, FactOf<'look'>>>>>;
  readonly proofs: readonly FactOf<'proof'>[];
  readonly visits: readonly FactOf<'visit'>[];
  readonly notes: readonly FactOf<'note'>[];
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
  const ticks: Record<string, FactOf<'tick'>> = {};
  const timers: Record<string, TimerState> = {};
  const looks: Record<string, Record<number, FactOf<'look'>>> = {};
  const proofs: FactOf<'proof'>[] = [];
  const visits: FactOf<'visit'>[] = [];
  const notes: FactOf<'note'>[] = [];
  const colours: Partial<Record<FactOf<'tube-colour'>['branch'], string>> = {};
  for (const f of inOrder(facts)) {
    switch (f.kind) {
      case 'reading':
        if (!corrected.has(f.id)) readings[f.field] = f;
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
      case 'tube-colour':
        colours[f.branch] = f.colour;
    }
  }
  const known: Known = {};
  for (const k of FIELD_KEYS) {
    const v = readings[k]?.value;
    if (v !== undefined && v !== null) known[k] = v;
    else Reflect.deleteProperty(readings, k);
  }
  return { readings, known, ticks, timers, looks, proofs, visits, notes, colours };
}

/** Whether a step stands ticked. */
export function isDone(record: JobRecord, step: string): boolean {
  return record.ticks[step]?.done === true;
}
