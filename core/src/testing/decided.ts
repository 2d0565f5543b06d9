import { decide, type Decision } from '../size/decide.ts';
import type { SizeInput } from '../size/kinds/candidates.ts';

/** Answers to what was asked in this process, by the question, both as JSON: tests of all files stand in a few houses. */
const answers =
  (globalThis as { answersOfProcess?: Map<string, string> }).answersOfProcess ?? new Map<string, string>();

/**
 * What `decide` says, a copy of its own for each, worked out once for all tests of a process: for a test that begins with a
 * decision, not for one of how it is reached.
 */
export function decided(input: SizeInput): Decision {
  const question = JSON.stringify(input);
  const known = answers.get(question);
  if (known !== undefined) return JSON.parse(known) as Decision;
  const answer = JSON.stringify(decide(input));
  answers.set(question, answer);
  return JSON.parse(answer) as Decision;
} // oxfmt-ignore
