import { doubtsOf } from '../../gauge/doubts.ts';
import { siteFrom } from '../../gauge/site.ts';
import { designInWords, type Design } from '../../system/design.ts';
import type { Contender } from '../decide.ts';
import { titleOf } from '../explain/reasons.ts';
import type { SizeInput } from '../kinds/candidates.ts';
import { otherWay } from '../kinds/otherWay.ts';
import { referralReasons } from '../kinds/referral.ts';
import { evaluate } from './evaluate.ts';
import { verdictAt } from './study.ts';

/** What can be said at once of moved readings, before the whole catalogue was searched for them. */
export interface Glance {
  readonly sentence: string;
  /** whether the same parts still do and nothing that stood next in line is ahead of them */
  readonly stands: boolean;
}

/**
 * Looks at moved readings by what was advised just before: whether those parts still do, and with which figures. A few
 * designs are worked out instead of some hundreds, so that the sentence follows a hand; the decision itself comes after.
 * @param contenders what stood next in line then
 * @param risk points of what was advised for what it may not do
 * @returns null where no design is the answer
 */
export function glanceAt(
  input: SizeInput,
  design: Design,
  contenders: readonly Contender[],
  risk: number,
): Glance | null {
  const { known, rules, catalogue } = input;
  const r = siteFrom(known, rules, input.placed);
  if (!r.ok || referralReasons(r.site, catalogue).length > 0) return null;
  const safety = doubtsOf(known).filter((d) => d.weight === 'safety');
  if (otherWay(r.site, input, r.assumed, safety)) return null;
  const against = verdictAt(input, design, contenders, risk);
  return against === null
    ? { stands: true, sentence: titleOf(evaluate(design, catalogue, r.site, rules), r.site, catalogue) }
    : { stands: false, sentence: `${designInWords(design, catalogue)}: ${against} Looking for what does.` };
}
