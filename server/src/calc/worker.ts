import {
  CALCULATORS,
  decide,
  tellBeside,
  type ToldBeside,
  type Catalogue,
  type Decision,
  type HouseRules,
  type SizeInput,
} from '@katharos/core';

/** One question to a calculator, as it crosses to the thread that answers it. */
export interface Question {
  readonly name: string;
  readonly input: unknown;
  readonly shelf: { readonly catalogue: Catalogue; readonly rules: HouseRules };
}
export type Answer = ReturnType<NonNullable<(typeof CALCULATORS)[string]>['answer']>;

/** Decides what suits a house, in a thread of its own. */
export const decision = (input: SizeInput): Decision => decide(input);

/** Works out what is told beside a decision, in a thread of its own. */
export const beside = ([input, decision, errors]: Parameters<typeof tellBeside>): ToldBeside =>
  tellBeside(input, decision, errors);

/** Answers in a thread of its own. @throws RangeError where there is no such calculator */
export default function answer({ name, input, shelf }: Question): Answer {
  const calculator = Object.hasOwn(CALCULATORS, name) ? CALCULATORS[name] : undefined;
  if (!calculator) throw new RangeError(`no calculator "${name}"`);
  return calculator.answer(input, shelf);
}
