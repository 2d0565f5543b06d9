import type { Assumed, Site } from '../../gauge/site.ts';
import type { FieldKey } from '../../gauge/fields.ts';
import { findPart, partOf, type Catalogue, type Part } from '../../parts/catalogue.ts';
import { sameKind, type Design } from '../../system/design.ts';
import { isStanding, type SizeInput } from '../kinds/candidates.ts';
import type { Evaluation } from './evaluate.ts';
import { RECOVERY_RANGE } from './failures.ts';
import { needsOf } from './needs.ts';
import type { Search } from '../search/search.ts';
import { doesIn, DRAWN_FIELDS, PART_SPREAD, runIn, truthsOf, type InTruth, type Truth } from './truths.ts';

const { abs, exp, log, max, min, sqrt } = Math;

/** Points for the whole certainty that a design does not do: it would be taken out again, and another put in. */
const LOSS = 60;
/** A recommendation does in at least this share of the draws, or says what reading would settle it. */
export const SURE = 0.9;
/** Points besides for each share it falls short of that: a surer design is put in unless it costs far more. */
const UNSURE = 400;
/** Draws a design is weighed by, and those of a shortlist that are drawn. */
export const DRAWS = 40;
const SHORTLIST = 7;
/** Where none of the shortlist does surely: how many more are drawn, and from how many points further. */
const SURER = 6;
const FURTHER = 25;
/** Shares of draws that differ by less tell nothing apart. */
const ALIKE = 0.03;

/** A working design with how surely it does, and what it is worth with that. */
export interface Weighed {
  readonly evaluation: Evaluation;
  /** share of the draws of readings and parts in which it does, 0 to 1 */
  readonly holds: number;
  /** points, lower is better: its own, and the loss by as much as it may not do */
  readonly worth: number;
}

/** Points for what a design may not do. @param holds share of the draws in which it does */
export const riskOf = (holds: number): number => LOSS * (1 - holds) + UNSURE * max(0, SURE - holds);

/** Spread of a house's figures over the truths: shares as standard deviations of their logarithms, the cold in °C. */
interface Spread {
  readonly bar: number;
  readonly litres: number;
  readonly draw: number;
  readonly cold: number;
  readonly tds: number;
  readonly safe: number;
  /** largest recovery the truths bear, their middle, 0 to 1 */
  readonly middleSafe: number;
}

function spreadOf(site: Site, truths: readonly Truth[]): Spread {
  const root = (off: (s: Site) => number): number =>
    sqrt(truths.reduce((sum, t) => sum + off(t.site) ** 2, 0) / max(1, truths.length));
  const share = (of: (s: Site) => number, middle = of(site)): number =>
    root((s) => log(max(1e-6, of(s)) / max(1e-6, middle)));
  const middleSafe = exp(
    truths.reduce((sum, t) => sum + log(max(1e-6, t.site.safe.recovery)), 0) / max(1, truths.length),
  );
  return {
    bar: share((s) => s.worstBar),
    litres: share((s) => s.litresADay),
    draw: share((s) => s.largestDrawL),
    cold: root((s) => s.coldestC - site.coldestC),
    tds: share((s) => s.tdsMgL),
    safe: share((s) => s.safe.recovery, middleSafe),
    middleSafe,
  };
}

/** Chance that a bell falls below minus z, within 0.01. */
const chanceBelow = (z: number): number => 1 / (1 + exp(1.702 * z));

/**
 * Roughly how likely a design does not do: its margins over the needs against what readings and parts are known to. Only for
 * the order in which designs are drawn. 0 to 1.
 */
function roughRisk(e: Evaluation, site: Site, input: SizeInput, s: Spread): number {
  const { worst: w, year, design } = e;
  const needs = needsOf(site, input.rules);
  const bar = (s.bar * site.worstBar) / max(0.3, w.middle.inletBar);
  const makes = (PART_SPREAD.elementFlow / 2) ** 2 + bar ** 2 + (0.03 * s.cold) ** 2;
  const chance = (margin: number, variance: number): number =>
    margin > 0 ? chanceBelow(log(margin) / sqrt(max(1e-6, variance))) : 1;
  const element = partOf(input.catalogue, 'element', design.elementId);
  const safe = min(element.maxRecovery ?? RECOVERY_RANGE.max, s.middleSafe);
  const fails = [
    w.direct
      ? chance(w.tapFlowLMin / needs.tapLMin.least, makes)
      : chance(w.litresADay / needs.litresADay.least, makes + s.litres ** 2),
    w.direct ? 0 : chance(w.usableL / needs.drawL.least, 0.06 ** 2 + bar ** 2 + s.draw ** 2),
    chance(
      input.rules.productTdsMaxMgL / max(1e-6, year?.warm.tdsMgL ?? 0, year?.cold.tdsMgL ?? 0),
      (PART_SPREAD.elementPassage / 2) ** 2 + s.tds ** 2,
    ),
    safe < (element.maxRecovery ?? 1) ? chance(safe / max(1e-6, e.warmRecovery), makes + s.safe ** 2) : 0,
  ];
  return 1 - fails.reduce((does, p) => does * (1 - p), 1);
}

/** Runs of designs in the same truths; what differs by its tank only shares its train's maps. */
interface Runs {
  readonly truths: readonly Truth[];
  readonly byTrain: Map<string, InTruth[]>;
}

const runsOf = (truths: readonly Truth[]): Runs => ({ truths, byTrain: new Map() });

/** The truths a design fails in, one after the other, up to as many as are worth counting. */
function failsOf(e: Evaluation, { truths, byTrain }: Runs, input: SizeInput, most = Infinity): Truth[] {
  const { design } = e;
  const key = JSON.stringify({ ...design, tankId: design.tankId !== null });
  const like = byTrain.get(key) ?? [];
  byTrain.set(key, like);
  // lived with it carries more salt than a fill from empty: by as much as it does at the readings as they are
  const lived =
    e.year && !e.worst.direct ? max(e.year.cold.tdsMgL, e.year.warm.tdsMgL) / max(1e-9, e.worst.fill.tankTdsMgL) : 1;
  const fails: Truth[] = [];
  for (const [i, t] of truths.entries()) {
    if (fails.length > most) break;
    const run = runIn(t, design, input.catalogue, like[i]);
    like[i] ??= run;
    if (!doesIn(t, run, run.worst.fill.tankTdsMgL * lived, design, input)) fails.push(t);
  }
  return fails;
}

/** Share of the truths in which a design does. */
const shareOf = (e: Evaluation, runs: Runs, input: SizeInput, most?: number): number =>
  1 - failsOf(e, runs, input, most).length / runs.truths.length;

/** How many of a design's parts the firm marks as its ordinary ones, and what they cost new. */
function firmsOwn(design: Design, catalogue: Catalogue): { readonly ordinary: number; readonly price: number } {
  const parts = [design.elementId, design.restrictorId, design.tankId, design.pumpId, design.permeatePumpId]
    .map((id) => findPart(catalogue, id))
    .filter((p): p is Part => p !== undefined);
  return {
    ordinary: parts.filter((p) => p.ordinary === true).length,
    price: parts.reduce((sum, p) => sum + (p.price ?? 0), 0),
  };
}

/** What working designs are worth with how surely they do. */
export interface Weighing {
  /** the recommended first, then the drawn by their worth, then the rest by their points */
  readonly order: readonly Evaluation[];
  /** those that were drawn */
  readonly weighed: readonly Weighed[];
  /** what would be recommended if nothing stood already; null where it is the same */
  readonly instead: Weighed | null;
}

/**
 * Weighs what a search found over draws of readings and parts: first the kind of system with the least expected points; of that
 * kind, of those within the band of indifference, the one that does in most draws, then the firm's ordinary parts, then the cheaper.
 */
export function weigh(
  search: Pick<Search, 'working' | 'widen'>,
  input: SizeInput,
  site: Site,
  assumed: readonly Assumed[],
): Weighing {
  const runs = runsOf(truthsOf(input, site, assumed, DRAWS));
  const spread = spreadOf(site, runs.truths);
  const roughly = (some: readonly Evaluation[]): Rough[] =>
    some.map((evaluation) => {
      const risk = roughRisk(evaluation, site, input, spread);
      return { evaluation, risk, worth: evaluation.score + riskOf(1 - risk) };
    });
  const rough = roughly(search.working).sort((a, b) => a.worth - b.worth);
  const table = new Table(runs, input);
  shortlisted(rough).forEach((r) => {
    table.weigh(r.evaluation, r.risk);
  });
  // none of them does surely: what else does for no more than that one is worth comes into it, those that miss least first
  const unsure = table.best();
  if (unsure && unsure.holds < SURE)
    [...rough, ...roughly(search.widen(min(unsure.worth, unsure.evaluation.score + FURTHER)))]
      .sort((a, b) => a.risk - b.risk || a.worth - b.worth)
      .slice(0, SURER)
      .forEach((r) => {
        table.weigh(r.evaluation, r.risk);
      });
  let first = table.pick();
  // what is recommended was drawn, not only reckoned
  while (first && table.draw(first)) first = table.pick();
  if (!first) return { order: search.working, weighed: [], instead: null };
  const stands = table.standing(search.working, rough);
  const chosen = stands ?? first;
  const weighed = [
    chosen,
    ...table.all.filter((w) => w.evaluation !== chosen.evaluation).sort((a, b) => a.worth - b.worth),
  ];
  const rest = search.working.filter((e) => !table.all.some((w) => w.evaluation === e));
  return {
    order: [...weighed.map((w) => w.evaluation), ...rest],
    weighed,
    instead: chosen.evaluation === first.evaluation ? null : first,
  };
}

/** A design is reckoned to do without being drawn where its margins leave less than this chance that it does not. */
const SAFE = 0.01;

/** The designs of a shortlist with what they are worth; those that may not do are drawn. */
class Table {
  all: readonly Weighed[] = [];
  private readonly drawn = new Set<Evaluation>();
  private readonly runs: Runs;
  private readonly input: SizeInput;
  constructor(runs: Runs, input: SizeInput) {
    this.runs = runs;
    this.input = input;
  }

  best(): Weighed | undefined {
    return this.all.reduce<Weighed | undefined>((m, w) => (m && m.worth <= w.worth ? m : w), undefined);
  }

  /** Takes a design in, unless its points alone stand behind what is there however surely it does. */
  weigh(evaluation: Evaluation, risk: number): void {
    const best = this.best();
    const { indifference } = this.input.rules;
    if (this.all.some((w) => w.evaluation === evaluation)) return;
    if (best && evaluation.score >= best.worth + indifference) return;
    if (risk < SAFE) {
      this.put(evaluation, 1 - risk);
      return;
    }
    // so many fails put it behind for certain: whether there are more need not be known
    const most = best ? ((best.worth + indifference - evaluation.score) / LOSS) * DRAWS : Infinity;
    this.drawn.add(evaluation);
    this.put(evaluation, shareOf(evaluation, this.runs, this.input, most));
  }

  /** Draws a design that was only reckoned. @returns whether it was */
  draw({ evaluation }: Weighed): boolean {
    if (this.drawn.has(evaluation)) return false;
    this.drawn.add(evaluation);
    this.put(evaluation, shareOf(evaluation, this.runs, this.input));
    return true;
  }

  /** Of the best kind, of those within the band of indifference, the surest; then the firm's ordinary parts, then the cheaper. */
  pick(): Weighed | undefined {
    const best = this.best();
    if (!best) return undefined;
    const like = this.all.filter(
      (w) =>
        sameKind(w.evaluation.design, best.evaluation.design) && w.worth <= best.worth + this.input.rules.indifference,
    );
    const surest = max(...like.map((w) => w.holds));
    const of = (w: Weighed): ReturnType<typeof firmsOwn> => firmsOwn(w.evaluation.design, this.input.catalogue);
    return like
      .filter((w) => w.holds >= surest - ALIKE)
      .sort((a, b) => of(b).ordinary - of(a).ordinary || of(a).price - of(b).price || a.worth - b.worth)[0];
  }

  /** What is approved already, drawn like the rest; undefined where it does no longer, or is beaten by more than the band. */
  standing(working: readonly Evaluation[], rough: readonly Rough[]): Weighed | undefined {
    const { standing, rules } = this.input;
    const stands = standing && working.find((e) => isStanding(e.design, standing));
    if (!stands) return undefined;
    this.weigh(stands, rough.find((r) => r.evaluation === stands)?.risk ?? 1);
    const mine = (): Weighed | undefined => this.all.find((w) => w.evaluation === stands);
    const reckoned = mine();
    if (reckoned) this.draw(reckoned);
    const drawn = mine();
    return drawn && drawn.worth <= (this.best()?.worth ?? Infinity) + rules.indifference ? drawn : undefined;
  }

  private put(evaluation: Evaluation, holds: number): void {
    const weighed = { evaluation, holds, worth: evaluation.score + riskOf(holds) };
    this.all = [...this.all.filter((w) => w.evaluation !== evaluation), weighed];
  }
}

/** A working design with roughly how likely it does not do. */
interface Rough {
  readonly evaluation: Evaluation;
  readonly risk: number;
  readonly worth: number;
}

/** The likeliest few, the best of each of the first kinds among them. */
function shortlisted(rough: readonly Rough[]): Rough[] {
  const like = (a: Rough, b: Rough): boolean => sameKind(a.evaluation.design, b.evaluation.design);
  const kinds = rough.filter((r, i) => rough.findIndex((x) => like(x, r)) === i).slice(0, 3);
  const own = rough.filter((r) => kinds[0] && like(r, kinds[0]));
  return [...new Set([...own.slice(0, SHORTLIST - kinds.length + 1), ...kinds])];
}

/** Which readings would settle whether a design does, and how surely it then does. */
export interface Settling {
  /** one or two readings, the first tells most; none where no two of them would */
  readonly fields: readonly FieldKey[];
  /** share of the draws in which it does once they are read as they were taken */
  readonly then: number;
}

/** Readings that are suspected, those first that are off where it fails. */
const SUSPECTS = 4;

/**
 * Names the one or two readings after which a design would do in nine draws of ten. Those that are off in the draws it fails
 * in are held one by one, then in pairs, and the draws made anew.
 */
export function settledBy(e: Evaluation, input: SizeInput, site: Site, assumed: readonly Assumed[]): Settling {
  const share = (held: readonly FieldKey[]): number =>
    shareOf(e, runsOf(truthsOf(input, site, assumed, DRAWS, 1, new Set(held))), input);
  const fails = failsOf(e, runsOf(truthsOf(input, site, assumed, DRAWS)), input);
  const mean = (field: FieldKey): number => abs(fails.reduce((sum, t) => sum + (t.off[field] ?? 0), 0));
  // a pH that was read is known as closely as a kit reads
  const likely = DRAWN_FIELDS.filter((f) => f !== 'pH' || input.known.pH === undefined)
    .map((field) => ({ field, by: mean(field) }))
    .sort((a, b) => b.by - a.by)
    .slice(0, SUSPECTS)
    .map((m) => m.field);
  let best: Settling = { fields: [], then: 0 };
  // each by itself, then the one that tells most with each of the others
  for (const round of [1, 2]) {
    const first = best.fields;
    for (const field of likely.filter((f) => !first.includes(f))) {
      const fields = round === 1 ? [field] : [...first, field];
      const then = share(fields);
      if (then >= SURE) return { fields, then };
      if (then > best.then) best = { fields, then };
    }
    if (round === 1 && best.fields.length === 0) break;
  }
  return { fields: [], then: best.then };
}
