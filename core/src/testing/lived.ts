import {
  makeVersion,
  proposalOf,
  summarise,
  type DesignVersion,
  type Fact,
  type JobSummary,
  type Known,
  type NewFact,
} from '../index.ts';
import { rules, shelf } from './fixtures.ts';
import { decided } from './decided.ts';

const DAY_MS = 86_400_000;
const id = (n: number): string => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;

/** A house whose recommended system was approved, flushed on the first day, and lived with. */
export interface Lived {
  readonly version: DesignVersion;
  /** a fact so many days after the approval */
  readonly fact: (days: number, f: NewFact) => Fact;
  /** its run sheet ticked on the first day, the last step at 0.2 and something */
  readonly flushed: readonly Fact[];
  /** a proof, judged so where that is told */
  readonly proof: (days: number, judged?: { readonly flowAgainstNew: number; readonly passageAgainstNew: number }) => Fact;
  readonly at: (facts: readonly Fact[], days: number) => JobSummary;
} // oxfmt-ignore

/** Approves what is recommended for a house. @param t0Ms moment of the approval @throws where nothing is recommended */
export function lived(known: Known, t0Ms: number): Lived {
  const input = { known, placed: {}, catalogue: shelf, rules };
  const proposal = proposalOf(decided(input));
  if (!proposal) throw new Error('nothing is recommended for this house');
  let n = 100;
  let thing = 5000;
  const version = makeVersion(input, proposal, {
    id: id(3),
    at: new Date(t0Ms).toISOString(),
    by: id(2),
    reason: '',
    against: '',
    before: null,
    newId: () => id(thing++),
  });
  const fact = (days: number, f: NewFact): Fact => ({
    ...f,
    v: 2,
    id: id(n++),
    jobId: id(1),
    by: id(2),
    at: new Date(t0Ms + days * DAY_MS).toISOString(),
  });
  return {
    version,
    fact,
    flushed: version.sheet.map((s, i) => fact(0.2 + i * 0.001, { kind: 'tick', design: version.id, step: s.key, done: true })),
    proof: (days, judged) => fact(days, { kind: 'proof', design: version.id, readings: {}, ...(judged ? { judged: judged as never } : {}) }),
    at: (facts, days) => summarise(facts, [version], shelf, rules, t0Ms + days * DAY_MS),
  };
} // oxfmt-ignore
