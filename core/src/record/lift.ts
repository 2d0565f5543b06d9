import { jointsOf } from '../system/system.ts';
import { FACT_VERSION, hasFactShape, type Fact } from '../facts/facts.ts';
import type { DesignVersion } from './version.ts';

/** Something stored that cannot be read: it is shown with what it says, and harms nothing else. */
export interface Unreadable {
  readonly id: string;
  readonly what: 'fact' | 'design';
  readonly said: string;
}

/** What came of reading a job's stored facts. */
export interface OpenedFacts {
  readonly facts: readonly Fact[];
  readonly unreadable: readonly Unreadable[];
}

type Raw = Readonly<Record<string, unknown>>;

/** The version in force when something was recorded: the last one approved by then, else the first. */
export function inForceAt(versions: readonly DesignVersion[], at: string): DesignVersion | null {
  const then = Date.parse(at);
  return versions.findLast((d) => Date.parse(d.at) <= then) ?? versions[0] ?? null;
}

/**
 * A fact of the first kind as it is written today. A joint's number was its place along the water of the version in force;
 * parts that were changed were named as the first version's components still are.
 */
function fromFirst(raw: Raw, versions: readonly DesignVersion[]): Raw {
  const version = inForceAt(versions, String(raw.at));
  const system = version?.system;
  const own = { ...raw, v: FACT_VERSION };
  const of = version ? { design: version.id } : {};
  switch (raw.kind) {
    case 'look': {
      const joint = system && jointsOf(system).find((j) => j.number === raw.joint);
      // what cannot be told is kept as it was said
      return { ...own, ...of, joint: joint?.id ?? `joint ${String(raw.joint)}` };
    }
    case 'tick':
    case 'timer':
    case 'tube-colour':
    case 'visit':
      return { ...own, ...of };
    case 'proof': {
      return { ...own, ...of, grade: undefined };
    }
    default:
      return own;
  }
}

/** Lifts one stored fact of any age to today's shape; what cannot be read comes back as such. */
export function liftFact(raw: unknown, versions: readonly DesignVersion[]): Fact | Unreadable {
  const stored = typeof raw === 'object' && raw !== null ? (raw as Raw) : {};
  const lifted = stored.v === undefined ? fromFirst(stored, versions) : stored;
  if (hasFactShape(lifted)) return lifted;
  return { id: typeof stored.id === 'string' ? stored.id : '', what: 'fact', said: JSON.stringify(raw).slice(0, 2000) };
}

/** Lifts a job's stored facts. @param versions its designs, oldest first */
export function openFacts(stored: readonly unknown[], versions: readonly DesignVersion[]): OpenedFacts {
  const facts: Fact[] = [];
  const unreadable: Unreadable[] = [];
  for (const raw of stored) {
    const f = liftFact(raw, versions);
    if ('what' in f) unreadable.push(f);
    else facts.push(f);
  }
  return { facts, unreadable };
}
