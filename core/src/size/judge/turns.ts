import { choiceWords, gaugeField, type FieldKey } from '../../gauge/fields.ts';
import { siteFrom, type Site } from '../../gauge/site.ts';
import { designDifferences, sameDesign, sameKind, type Design } from '../../system/design.ts';
import { formatReading } from '../../quantity/format.ts';
import type { SizeInput } from '../kinds/candidates.ts';
import { beforeSearch, chooseAmong, type Contender } from '../decide.ts';
import { titleOf } from '../explain/reasons.ts';
import { settledAnew } from '../kinds/families.ts';
import { evaluate } from './evaluate.ts';
import { verdictAt } from './study.ts';

/** Another answer to something nobody has asked yet, and what would come of it. */
export interface Turn {
  readonly field: FieldKey;
  /** the answer in the words it is asked in: "chloramine", "4 L/min" */
  readonly answer: string;
  /** what would be otherwise, or what would be decided instead */
  readonly becomes: string;
}

export interface Turns {
  /** what was looked at: of these, only what stands in `turns` would change anything */
  readonly looked: readonly FieldKey[];
  readonly turns: readonly Turn[];
}

/** What is asked rather than measured, with the answers that are tried for it. */
interface Asked {
  readonly field: FieldKey;
  readonly answers: readonly (string | number)[];
  /** answers that may let in what was ruled out: only a whole search tells what then comes first */
  readonly opens?: readonly (string | number)[];
  readonly where?: (site: Site) => boolean;
}

/** In the order it is asked. */
const ASKED: readonly Asked[] = [
  { field: 'aim', answers: ['taste'] },
  { field: 'disinfectant', answers: ['chlorine', 'chloramine', 'none'] },
  { field: 'socket', answers: ['yes', 'no'], opens: ['yes'] },
  { field: 'fridge', answers: ['yes'] },
  { field: 'metalAfter', answers: ['copper'] },
  { field: 'storeWish', answers: ['tank', 'none'], opens: ['tank', 'none'] },
  { field: 'patience', answers: ['brisk', 'patient'], opens: ['patient'] },
  { field: 'mineralsWanted', answers: ['yes'] },
  // a supply through a half-closed valve, and one through a wide pipe
  { field: 'runningFlowLMin', answers: [4, 20], opens: [20], where: (s) => s.staticBar > s.worstBar },
  { field: 'nitrateMgL', answers: [60] },
];

/**
 * Asks of everything nobody has answered yet whether another answer would lead to other parts. What is decided is looked at
 * beside what stood next in line, as where a reading is moved; only where it does not stand there, or where an answer lets in
 * what was ruled out, is the catalogue searched anew. What is known is not looked at.
 * @param design what is decided as the readings stand; null where nothing fits
 * @param contenders designs that stood next in line; none, and each answer is decided anew
 * @param risk points of the design for what it may not do
 * @returns nothing looked at where the house cannot be sized yet
 */
export function turnsOf(
  input: SizeInput,
  design: Design | null,
  contenders: readonly Contender[] = [],
  risk = 0,
): Turns {
  const result = siteFrom(input.known, input.rules, input.placed);
  if (!result.ok) return { looked: [], turns: [] };
  const open = ASKED.filter(({ field, where }) => input.known[field] === undefined && (where?.(result.site) ?? true));
  const turns = open.flatMap(({ field, answers, opens }) =>
    answers
      .filter((answer) => !cannotTell(field, answer, design))
      .flatMap((answer) => {
        const beside = opens?.includes(answer) ? [] : contenders;
        const becomes = otherwise({ ...input, known: { ...input.known, [field]: answer } }, design, beside, risk);
        return becomes === null ? [] : [{ field, answer: answerWords(field, answer), becomes }];
      }),
  );
  return { looked: open.map(({ field }) => field), turns };
}

/** A wish for what is the best of all anyway leads nowhere else. */
function cannotTell(field: FieldKey, answer: string | number, design: Design | null): boolean {
  return field === 'storeWish' && design !== null && answer === (design.tankId === null ? 'none' : 'tank');
}

/** What of a design is its size, not its kind. */
const TRIM: ReadonlySet<string> = new Set(['elementId', 'elementCount', 'restrictorId', 'tankId', 'tubeId']);

/** What another decision would change, in words; null where it comes to the same, or to another size while this one still does. */
function otherwise(
  input: SizeInput,
  design: Design | null,
  contenders: readonly Contender[],
  risk: number,
): string | null {
  const before = beforeSearch(input);
  if (before.kind !== 'to-search') return before.sentence;
  if (design && stands(design, contenders, risk, input, before.site)) return null;
  const d = chooseAmong(input, before);
  if (!design && d.kind === 'nothing-fits') return null;
  if (d.kind !== 'chosen') return d.sentence;
  const other = d.chosen.design;
  if (!design) return titleOf(d.chosen, d.site, input.catalogue);
  if (sameDesign(other, design)) return null;
  const onlySize = Object.keys(other).every((k) => TRIM.has(k) || equalPlace(other, design, k as keyof Design));
  if (onlySize && sameKind(other, design)) {
    const still = evaluate(design, input.catalogue, d.site, input.rules);
    if (still.failures.length === 0) return null;
  }
  return designDifferences(design, other, input.catalogue)
    .map((x) => `${x.what}: ${x.to}`)
    .join('; ');
}

/**
 * Whether a design stands as it is beside what stood next in line: nothing of it is settled otherwise, it does, and no other
 * kind is ahead of it by more than the band within which two are as good.
 * @returns false where nothing stood next in line: that is to be searched for
 */
function stands(design: Design, contenders: readonly Contender[], risk: number, input: SizeInput, site: Site): boolean {
  const still = settledAnew(design, input, site);
  if (contenders.length === 0 || !still || !sameDesign(still, design)) return false;
  const beside = contenders.flatMap((c) => {
    const as = settledAnew(c.design, input, site);
    return as ? [{ design: as, risk: c.risk }] : [];
  });
  return verdictAt(input, design, beside, risk) === null;
}

const equalPlace = (a: Design, b: Design, k: keyof Design): boolean => JSON.stringify(a[k]) === JSON.stringify(b[k]);

function answerWords(field: FieldKey, answer: string | number): string {
  const f = gaugeField(field);
  return f.type === 'choice' ? choiceWords(f, answer) : `${formatReading(Number(answer))} ${f.unit}`;
}
