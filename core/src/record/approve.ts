import type { YearFigures } from '../size/judge/year.ts';
import { CORE_VERSION } from '../coreVersion.ts';
import { siteFrom } from '../gauge/site.ts';
import type { Catalogue } from '../parts/catalogue.ts';
import type { HouseRules } from '../rules/rules.ts';
import { evaluate } from '../size/judge/evaluate.ts';
import { designFigures } from '../size/judge/figures.ts';
import { reasonsFor, titleOf } from '../size/explain/reasons.ts';
import type { SizeInput } from '../size/kinds/candidates.ts';
import { choiceFor, type Proposal } from '../size/decide.ts';
import { buildSystem } from '../system/build.ts';
import type { Fact } from '../facts/facts.ts';
import { readJob } from '../facts/record.ts';
import type { Design } from '../system/design.ts';
import { viewOf } from './view.ts';
import { DOCUMENT_VERSION, knownWith, withLastingIds, workFor, type DesignVersion, type Judged } from './version.ts';

/** Who approves, when, and what came before. */
export interface Approval {
  readonly id: string;
  readonly at: string;
  readonly by: string;
  /** why, when it is taken against the advice; '' where it is not */
  readonly reason: string;
  /** the sentence that was recommended instead; '' where this is it */
  readonly against: string;
  readonly before: DesignVersion | null;
  /** what happened in the job so far: a version approved in the middle of the work goes on with it; left out, that work is taken as done */
  readonly facts?: readonly Fact[] | undefined;
  readonly shelf?: Judged['shelf'];
  /** makes an id that was never used before */
  readonly newId: () => string;
}

/**
 * Makes the version that an approval keeps: its parts as the shelf has them now, with ids that last, the house as it is known
 * and assumed, the rules, the sentence worked out for these parts, and the run sheet.
 * @throws RangeError where the house is not known well enough, or the shelf lacks a part
 */
export function makeVersion(input: SizeInput, what: Proposal, approval: Approval): DesignVersion {
  const { catalogue, rules } = input;
  const r = siteFrom(input.known, rules, input.placed);
  if (!r.ok) throw new RangeError(`not known yet: ${r.missing.join(', ')}`);
  const { site, assumed } = r;
  const choice = choiceFor(what, catalogue);
  const { before } = approval;
  const system = withLastingIds(buildSystem(choice, catalogue, site), before?.system ?? null, approval.newId);
  const view = viewOf(system, site, assumed, rules);
  const told = 'design' in what ? toldOf(what.design, input, catalogue, rules) : { ...what.assembly, year: null };
  const { worst } = view;
  return {
    v: DOCUMENT_VERSION,
    id: approval.id,
    number: (before?.number ?? 0) + 1,
    system,
    judged: {
      known: knownWith(input.known, assumed),
      assumed: assumed.map((a) => ({ field: a.field, value: a.value, why: a.why.slice(0, 400) })),
      rules,
      coreVersion: CORE_VERSION,
      sentence: told.sentence.slice(0, 600),
      reasons: told.reasons.slice(0, 40).map((x) => x.slice(0, 1200)),
      against: approval.against.slice(0, 600),
      figures: {
        litresADay: worst.litresADay,
        tapFlowLMin: worst.tapFlowLMin,
        fillMinutes: worst.fill.minutes,
        // as it is lived with; of a fill where no year was worked out for it
        tankTdsMgL: told.year?.tdsMgL ?? worst.fill.tankTdsMgL,
        wasteRatio: told.year?.wasteRatio ?? (Number.isFinite(worst.wasteRatio) ? worst.wasteRatio : 0),
        costYear: told.costYear,
        firstGlassMgL: worst.direct?.firstGlassTdsMgL ?? null,
      },
      shelf: approval.shelf ?? 'as chosen',
    },
    ...workFor(
      view.sheet,
      system,
      before && { version: before, record: approval.facts ? readJob(approval.facts, before) : null },
    ),
    reason: approval.reason,
    at: approval.at,
    by: approval.by,
  };
}

/** Sentence, reasons and cost of a design as it would be recommended, whether it is or not. */
function toldOf(
  design: Design,
  input: SizeInput,
  catalogue: Catalogue,
  rules: HouseRules,
): { sentence: string; reasons: readonly string[]; costYear: number | null; year: YearFigures | null } {
  const r = siteFrom(input.known, rules, input.placed);
  if (!r.ok) return { sentence: '', reasons: [], costYear: null, year: null };
  const e = evaluate(design, catalogue, r.site, rules);
  const short = e.failures.map((f) => f.text);
  return {
    sentence: titleOf(e, r.site, catalogue),
    reasons: [...short, ...reasonsFor(e, r.site, input, [])],
    costYear: designFigures(e, catalogue, r.site).costYear,
    year: e.year,
  };
}
