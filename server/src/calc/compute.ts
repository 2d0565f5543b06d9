import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { CORE_VERSION, type ToldBeside, type Decision, type tellBeside, type SizeInput } from '@katharos/core';
import { Piscina } from 'piscina';
import { ApiProblem } from '../http/problem.ts';
import answer, { beside, decision, type Answer, type Question } from './worker.ts';

/** What the core is asked for beside what else there is to do. */
export interface Compute {
  /** Has a calculator's question answered. @param gone ends it where nobody waits any more */
  readonly answer: (question: Question, gone: AbortSignal) => Promise<Answer>;
  /** Decides what suits a house. */
  readonly decide: (input: SizeInput) => Promise<Decision>;
  /** Works out what is told beside a decision. */
  readonly tellBeside: (...asked: Parameters<typeof tellBeside>) => Promise<ToldBeside>;
  /** names what computes: of two with one name both give the same */
  readonly version: string;
}

/** Answers here and now: for tests and development. */
export const computeHere: Compute = {
  answer: (question) => Promise.resolve(answer(question)),
  decide: (input) => Promise.resolve(decision(input)),
  tellBeside: (...asked) => Promise.resolve(beside(asked)),
  version: CORE_VERSION,
};

/** Questions that wait behind those under way; more are told that there is too much asked. */
const MOST_WAITING = 16;
/** A thread without work ends after this long, ms. */
const IDLE_MS = 60_000;
/** What a thread may take, several times what its longest question needs: it clears up rather than grow. */
const MEMORY = { maxYoungGenerationSizeMb: 16, maxOldGenerationSizeMb: 256 };

/**
 * Answers in threads of their own, one processor left to everybody else; those beyond wait their turn, those beyond that are
 * refused as 'busy'. @param worker file of `worker.ts` as it runs
 */
export function computeBeside(worker: string): Compute {
  let made: Piscina | undefined;
  const pool = (): Piscina => {
    made ??= new Piscina({
      filename: worker,
      minThreads: 0,
      maxThreads: Math.max(1, availableParallelism() - 1),
      maxQueue: MOST_WAITING,
      idleTimeout: IDLE_MS,
      resourceLimits: MEMORY,
    });
    if (made.queueSize >= MOST_WAITING)
      throw new ApiProblem('busy', { detail: 'Too much is being worked out. Ask again in a moment.' });
    return made;
  };
  return {
    answer: async (question, gone) => pool().run(question, { signal: gone }) as Promise<Answer>,
    decide: async (input) => pool().run(input, { name: 'decision' }) as Promise<Decision>,
    tellBeside: async (...asked) => pool().run(asked, { name: 'beside' }) as Promise<ToldBeside>,
    version: createHash('sha256').update(readFileSync(worker)).digest('base64url'),
  };
}
