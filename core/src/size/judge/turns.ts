import { choiceWords, gaugeField, type FieldKey } from '../../gauge/fields.ts';
import { siteFrom, type Site } from '../../gauge/site.ts';
import { designDifferences, sameDesign, sameKind, type Design } from '../../system/design.ts';
import { formatReading } from '../../quantity/format.ts';
import type { SizeInput } from '../kinds/candidates.ts';
import { chooseFor } from '../decide.ts';
import { titleOf } from '../explain/reasons.ts';
import { evaluate } from './evaluate.ts';

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

/** What is asked rather than measured, in the order it is asked, and the answers that are tried for it. */
const ANSWERS: readonly (readonly [FieldKey, readonly (string | number)[], (site: Site) => boolean])[] = [
  ['aim', ['taste'], () => true],
  ['disinfectant', ['chlorine', 'chloramine', 'none'], () => true],
  ['socket', ['yes', 'no'], () => true],
  ['fridge', ['yes'], () => true],
  ['metalAfter', ['copper'], () => true],
  ['storeWish', ['tank', 'none'], () => true],
  ['patience', ['brisk', 'patient'], () => true],
  ['mineralsWanted', ['yes'], () => true],
  // a supply through a half-closed valve, and one through a wide pipe
  ['runningFlowLMin', [4, 20], (s) => s.staticBar > s.worstBar],
  ['nitrateMgL', [60], () => true],
];

/**
 * Asks of everything nobody has answered yet whether another answer would lead to other parts.
 * Each is one decision anew, so this takes about a second; what is known is not looked at.
 * @param design what is decided as the readings stand; null where nothing fits
 * @returns nothing looked at where the house cannot be sized yet
 */
export function turnsOf(input: SizeInput, design: Design | null): Turns {
  const result = siteFrom(input.known, input.rules, input.placed);
  if (!result.ok) return { looked: [], turns: [] };
  const open = ANSWERS.filter(([field, , where]) => input.known[field] === undefined && where(result.site));
  const turns = open.flatMap(([field, answers]) =>
    answers
      .filter((answer) => !cannotTell(field, answer, design))
      .flatMap((answer) => {
        const becomes = otherwise({ ...input, known: { ...input.known, [field]: answer } }, design);
        return becomes === null ? [] : [{ field, answer: answerWords(field, answer), becomes }];
      }),
  );
  return { looked: open.map(([field]) => field), turns };
}

/** A wish for what is the best of all anyway leads nowhere else. */
function cannotTell(field: FieldKey, answer: string | number, design: Design | null): boolean {
  return field === 'storeWish' && design !== null && answer === (design.tankId === null ? 'none' : 'tank');
}

/** What of a design is its size, not its kind. */
const TRIM: ReadonlySet<string> = new Set(['elementId', 'elementCount', 'restrictorId', 'tankId', 'tubeId']);

/** What another decision would change, in words; null where it comes to the same, or to another size while this one still does. */
function otherwise(input: SizeInput, design: Design | null): string | null {
  const d = chooseFor(input);
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

const equalPlace = (a: Design, b: Design, k: keyof Design): boolean => JSON.stringify(a[k]) === JSON.stringify(b[k]);

function answerWords(field: FieldKey, answer: string | number): string {
  const f = gaugeField(field);
  return f.type === 'choice' ? choiceWords(f, answer) : `${formatReading(Number(answer))} ${f.unit}`;
}
