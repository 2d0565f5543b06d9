import type { CupboardSize } from '../../gauge/place.ts';
import { siteFrom, type Site } from '../../gauge/site.ts';
import type { FieldKey, Known } from '../../gauge/fields.ts';
import { formatNumber, formatReading } from '../../quantity/format.ts';
import { bedOf, carbonOf } from '../../system/carbon.ts';
import { chooseFor, type Choosing } from '../decide.ts';
import type { SizeInput } from '../kinds/candidates.ts';
import type { FailureCode } from '../judge/failures.ts';
import { asCleared, referralReasons } from '../kinds/referral.ts';
import { titleOf } from './reasons.ts';
import { softenedTo } from './softening.ts';

const { log, exp, min } = Math;

/** A change that would make something fit, and what it then comes to. */
export interface Remedy {
  readonly code: RemedyCode;
  /** what is changed, with its figures: "Soften the feed to 70 mg/L of hardness; it has 210." */
  readonly change: string;
  /** what would then be put in */
  readonly becomes: string;
}

export type RemedyCode =
  | 'soften'
  | 'socket'
  | 'room'
  | 'store'
  | 'patience'
  | 'smaller-draw'
  | 'fewer-litres'
  | 'carbon'
  | 'saltier-tank'
  | 'cooler';

/** A change tried: the house or the shelf with it, and its words once something fits. */
interface Try {
  readonly code: RemedyCode;
  /** from the least change to the largest: the first that fits is told */
  readonly steps: readonly SizeInput[];
  readonly words: (input: SizeInput, c: Choosing) => string;
}

/** Shares of a figure that are tried one after the other, from the smallest change. */
const SHARES = [0.8, 0.6, 0.45, 0.3, 0.2] as const;
/** Carbon that is tried, times what the shelf has: two housings more, and as many again. */
const CARBON_TIMES = [2, 4] as const;
/** Softened as far as a softener goes, mg/L. */
const SOFTEST_MGL = 8;
const SOFTENINGS = 10;
/** Water that every part bears, °C. */
const MILD_C = 35;

const withKnown = (input: SizeInput, change: Known): SizeInput => ({ ...input, known: { ...input.known, ...change } });

/**
 * The smallest changes that would make something fit where nothing does, each worked out; where no single one does, the first
 * pair that does. Some seconds' work at the most: for a worker.
 * @param because codes of what speaks against the designs that come nearest
 */
export function remediesFor(input: SizeInput, because: readonly FailureCode[]): Remedy[] {
  const r = siteFrom(input.known, input.rules, input.placed);
  if (!r.ok) return [];
  const tries = triesFor(input, r.site, because).sort((a, b) => (ASKS[a.code] ?? 0) - (ASKS[b.code] ?? 0));
  const single: Remedy[] = [];
  // room that is found one way is not told another
  for (const t of tries) if (!single.some((found) => found.code === t.code)) single.push(...[tried(t) ?? []].flat());
  if (single.length > 0) return single;
  // what a household would have to do without comes into it last
  const pairs = tries.flatMap((a, i) => tries.slice(i + 1).map((b) => [a, b] as const));
  const asked = (p: readonly Try[]): number => p.reduce((sum, t) => sum + (ASKS[t.code] ?? 0), 0);
  for (const [a, b] of pairs.sort((x, y) => asked(x) - asked(y))) {
    const found = pairOf(a, b, input);
    if (found) return [found];
  }
  return [];
}

/** How much a change asks the household to do without. */
const ASKS: Readonly<Partial<Record<RemedyCode, number>>> = { 'saltier-tank': 1, 'smaller-draw': 2, 'fewer-litres': 3 };

/** What is chosen at the first of some steps at which something fits; if the last does not help, none does. */
function firstFit(steps: readonly SizeInput[]): { readonly at: number; readonly c: Choosing } | null {
  const at = (i: number): Choosing | null => {
    const step = steps[i];
    const c = step && chooseFor(step, 'only-what-fits');
    return c?.kind === 'chosen' ? c : null;
  };
  let fits = steps.length - 1;
  let c = at(fits);
  let short = -1;
  while (c && fits - short > 1) {
    const middle = (short + fits) >> 1;
    const less = at(middle);
    if (less) [fits, c] = [middle, less];
    else short = middle;
  }
  return c && { at: fits, c };
}

/** What fits with one change. */
function tried({ code, steps, words }: Try): Remedy | null {
  const found = firstFit(steps);
  const input = found && steps[found.at];
  return found && input
    ? { code, change: words(input, found.c), becomes: titleOf(found.c.chosen, found.c.site, input.catalogue) }
    : null;
}

/** Two changes at once: the first only as far as it must with the second as far as it goes, then the second. */
function pairOf(a: Try, b: Try, from: SizeInput): Remedy | null {
  const most = b.steps.at(-1);
  const one = most && firstFit(a.steps.map((x) => both(x, most, from)));
  const x = one && a.steps[one.at];
  const two = x && firstFit(b.steps.map((y) => both(x, y, from)));
  const y = two && b.steps[two.at];
  if (!y) return null;
  return {
    code: a.code,
    change: `${a.words(x, two.c)} And: ${b.words(y, two.c)}`,
    becomes: titleOf(two.c.chosen, two.c.site, both(x, y, from).catalogue),
  };
}

/** A house with two changes made to it. */
const both = (x: SizeInput, y: SizeInput, from: SizeInput): SizeInput => ({
  ...from,
  known: { ...x.known, ...changed(from.known, y.known) },
  catalogue: x.catalogue === from.catalogue ? y.catalogue : x.catalogue,
  rules: x.rules === from.rules ? y.rules : x.rules,
});

const changed = (from: Known, to: Known): Known =>
  Object.fromEntries(Object.entries(to).filter(([k, v]) => from[k as keyof Known] !== v));

/** The changes worth trying at a house, the easiest to make first. */
function triesFor(input: SizeInput, site: Site, because: readonly FailureCode[]): Try[] {
  const n = formatNumber;
  const codes = new Set(because);
  const out: Try[] = [];
  const add = (when: boolean, t: () => Try): void => {
    if (when) out.push(t());
  };
  const step = (code: RemedyCode, change: Known, words: Try['words']): Try => ({
    code,
    steps: [withKnown(input, change)],
    words,
  });
  add(site.storeWish !== 'either', () =>
    step('store', { storeWish: 'either' }, (_, c) =>
      c.chosen.design.tankId === null ? 'Without a tank after all.' : 'With a tank after all.',
    ),
  );
  add(input.known.patience !== 'patient', () =>
    step('patience', { patience: 'patient' }, () => 'Patience at the tap: a glass in 30 seconds.'),
  );
  add(codes.has('store-too-small') && site.largestDrawL > 1, () => ({
    code: 'smaller-draw',
    steps: SHARES.map((s) => withKnown(input, { largestDrawL: tidy(s * site.largestDrawL) })),
    words: (i) =>
      `The largest draw in parts of ${formatReading(Number(i.known.largestDrawL), 2)} L, an hour or so between them, in place of ${formatReading(site.largestDrawL)} L at once.`,
  }));
  add(codes.has('too-little'), () => ({
    code: 'fewer-litres',
    steps: SHARES.map((s) => withKnown(input, { litresADay: tidy(s * site.litresADay) })),
    words: (i) =>
      `${formatReading(Number(i.known.litresADay), 2)} L a day in place of ${formatReading(site.litresADay)}.`,
  }));
  add(site.socket === 'no', () =>
    step('socket', { socket: 'yes' }, () => 'A socket in the cupboard, always on, by an electrician.'),
  );
  const cupboard = site.cupboard;
  if (codes.has('no-room') && cupboard)
    out.push(
      ...GROWS.map(([w, d, h]) => ({
        code: 'room' as const,
        steps: LARGER_MM.map((mm) =>
          withKnown(input, {
            cupboardWidthMm: min(3000, cupboard.widthMm + w * mm),
            cupboardDepthMm: min(1500, cupboard.depthMm + d * mm),
            cupboardHeightMm: min(2500, cupboard.heightMm + h * mm),
          }),
        ),
        words: (i: SizeInput) => roomWords(i, cupboard),
      })),
    );
  add(site.hardnessMgL > 4 * SOFTEST_MGL, () => softening(input, site));
  add(codes.has('carbon-too-brief'), () => ({
    code: 'carbon',
    steps: CARBON_TIMES.map((times) => withCarbon(input, times)),
    words: (i, c) => {
      const litres = carbonOf(c.chosen.design, i.catalogue).bedVolumeL;
      return `More carbon than the shelf has for it: ${n(litres, 2)} L, in larger or further housings, in place of ${n(carbonOf(c.chosen.design, input.catalogue).bedVolumeL, 2)}.`;
    },
  }));
  add(codes.has('feed-too-warm') && site.warmestC > MILD_C, () =>
    step(
      'cooler',
      { warmestC: MILD_C },
      (i) =>
        `Cooler water: a feed taken where it stays below ${formatReading(Number(i.known.warmestC))} °C in summer (before a roof tank or a pipe in the sun); it comes with ${formatReading(site.warmestC)} °C.`,
    ),
  );
  add(codes.has('product-too-salty'), () => ({
    code: 'saltier-tank',
    steps: [1.5, 2, 3].map((by) => ({
      ...input,
      rules: { ...input.rules, productTdsMaxMgL: min(600, by * input.rules.productTdsMaxMgL) },
    })),
    words: (i) =>
      `Up to ${n(i.rules.productTdsMaxMgL, 2)} mg/L accepted in the tank, where the house rule says ${n(input.rules.productTdsMaxMgL, 3)}.`,
  }));
  return out;
}

/** Two digits are as close as a household, or a softener, is told. */
const tidy = (v: number): number => Number(v.toPrecision(2));

/** Softened in steps on a logarithm, the hardest first: what hardness it must come down to. The salt stays, as sodium. */
function softening(input: SizeInput, site: Site): Try {
  const from = log(site.hardnessMgL);
  const to = log(SOFTEST_MGL);
  return {
    code: 'soften',
    steps: Array.from({ length: SOFTENINGS }, (_, i) =>
      withKnown(input, softenedTo(site, tidy(exp(from + ((to - from) * (i + 1)) / SOFTENINGS)))),
    ),
    words: (i) =>
      `Soften the feed before it to ${formatReading(Number(i.known.hardnessMgL), 2)} mg/L of hardness; it has ${formatNumber(site.hardnessMgL, 3)}.`,
  };
}

/** So much larger, mm, and which way: wider, higher, deeper, then all of it. */
const LARGER_MM = [50, 100, 150, 200, 300, 500] as const;
const GROWS = [[1, 0, 0], [0, 0, 1], [0, 1, 0], [1, 1, 1]] as const; // oxfmt-ignore

/** The room with which it goes in, against what there is. */
function roomWords(input: SizeInput, has: CupboardSize): string {
  const n = (key: FieldKey): number => Number(input.known[key] ?? 0);
  return `Part of it elsewhere (next cupboard, basement), or a cupboard of ${formatReading(n('cupboardWidthMm'))} × ${formatReading(n('cupboardDepthMm'))} × ${formatReading(n('cupboardHeightMm'))} mm; this one has ${formatReading(has.widthMm)} × ${formatReading(has.depthMm)} × ${formatReading(has.heightMm)}. “Where it stands” in Gauge says so.`;
}

/** The shelf with so many times the carbon in each cartridge. */
function withCarbon(input: SizeInput, times: number): SizeInput {
  return {
    ...input,
    catalogue: input.catalogue.map((p) =>
      p.kind === 'carbon' ? { ...p, bed: { litres: times * bedOf(p).bedVolumeL, form: bedOf(p).kind } } : p,
    ),
  };
}

/** What would do at a referred house if its report comes back clean, and what refers it is put right: never to be approved. */
export interface Provisional {
  readonly sentence: string;
  /** what is taken for granted in it */
  readonly if: readonly string[];
}

/** @returns null where the house is not referred, or the salt or the heat of the feed itself refers it */
export function provisionalFor(input: SizeInput): Provisional | null {
  const r = siteFrom(input.known, input.rules, input.placed);
  if (!r.ok || referralReasons(r.site, input.catalogue).length === 0) return null;
  const cleared = asCleared(r.site, input.known, input.catalogue);
  const c = chooseFor({ ...input, known: cleared.known });
  if (c.kind === 'chosen')
    return { sentence: `Provisional: ${titleOf(c.chosen, c.site, input.catalogue)}`, if: cleared.if };
  return c.kind === 'nothing-fits' ? { sentence: `Provisional: even then not. ${c.sentence}`, if: cleared.if } : null;
}
