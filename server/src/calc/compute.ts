import { availableParallelism } from 'node:os';
import { Piscina } from 'piscina';
import { ApiProblem } from '../http/problem.ts';
import answer, { type Answer, type Question } from './worker.ts';

/** Has a calculator's question answered. @param gone ends it where nobody waits any more */
export type Compute = (question: Question, gone: AbortSignal) => Promise<Answer>;

/** Answers here and now: for tests and development. */
export const computeHere: Compute = (question) => Promise.resolve(answer(question));

/** Questions that wait behind those under way; more are told that there is too much asked. */
const MOST_WAITING = 16;
/** A thread without work ends after this long, ms. */
const IDLE_MS = 60_000;

/**
 * Answers in threads of their own, one processor left to everybody else; those beyond wait their turn, those beyond that are
 * refused as 'busy'. @param worker file of `worker.ts` as it runs
 */
export function computeBeside(worker: string): Compute {
  let pool: Piscina<Question, Answer> | undefined;
  return async (question, gone) => {
    pool ??= new Piscina<Question, Answer>({
      filename: worker,
      minThreads: 0,
      maxThreads: Math.max(1, availableParallelism() - 1),
      maxQueue: MOST_WAITING,
      idleTimeout: IDLE_MS,
    });
    if (pool.queueSize >= MOST_WAITING)
      throw new ApiProblem('busy', { detail: 'Too much is being worked out. Ask again in a moment.' });
    return pool.run(question, { signal: gone });
  };
}
