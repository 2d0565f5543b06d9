import { designInWords, sameDesign, type Design } from '../../system/design.ts';
import { formatMinutes, formatNumber } from '../../quantity/format.ts';
import { partOf, type Catalogue } from '../../parts/catalogue.ts';
import type { Evaluation } from '../judge/evaluate.ts';
import { powerW } from '../judge/figures.ts';

/** A figure to four places: what differs by less is alike, so that rounding puts nobody first. */
const alike = (v: number): number => (Number.isFinite(v) ? Number(v.toPrecision(4)) : v);

/** Another design that does, and the figure it wins on. */
export interface Alternative {
  readonly evaluation: Evaluation;
  readonly title: string;
  readonly winsOn: string;
}

/** Alternatives told at the most. */
const MOST = 4;

interface Measure {
  readonly name: string;
  readonly of: (e: Evaluation, catalogue: Catalogue) => number;
  readonly words: (e: Evaluation, catalogue: Catalogue) => string;
  /** the same, short, for what it is compared with */
  readonly short: (e: Evaluation, catalogue: Catalogue) => string;
}

/** Over a mean year where one was worked out, as the comparison shows it. */
const waste = (e: Evaluation): number => e.year?.wasteRatio ?? e.worst.wasteRatio;
const tankL = (e: Evaluation, c: Catalogue): number =>
  e.design.tankId === null ? 0 : partOf(c, 'tank', e.design.tankId).volumeL;

const powerWords = (w: number): string => (w === 0 ? 'none' : `${formatNumber(w, 2)} W`);

/** What designs are told apart by, each smaller is better. */
const MEASURES: readonly Measure[] = [
  {
    name: 'Least to the drain',
    of: waste,
    words: (e) => `${formatNumber(waste(e), 2)} L to the drain for each litre`,
    short: (e) => `${formatNumber(waste(e), 2)} L`,
  },
  {
    name: 'Quickest refill',
    of: (e) => e.worst.fill.minutes,
    words: (e) =>
      e.worst.direct
        ? 'no refill to wait for: made as it is drawn'
        : `${formatMinutes(e.worst.fill.minutes)} to refill`,
    short: (e) => (e.worst.direct ? 'none' : formatMinutes(e.worst.fill.minutes)),
  },
  {
    name: 'Most in store',
    of: (e) => -e.worst.usableL,
    words: (e) =>
      e.worst.direct ? 'none in store' : `${formatNumber(e.worst.usableL, 2)} L at the tap from a full tank`,
    short: (e) => (e.worst.direct ? 'none' : `${formatNumber(e.worst.usableL, 2)} L`),
  },
  {
    name: 'Briskest tap',
    of: (e) => -e.worst.tapFlowLMin,
    words: (e) => `${formatNumber(e.worst.tapFlowLMin, 2)} L/min at the tap`,
    short: (e) => `${formatNumber(e.worst.tapFlowLMin, 2)} L/min`,
  },
  {
    name: 'Purest water',
    of: (e) => e.year?.tdsMgL ?? e.worst.fill.tankTdsMgL,
    words: (e) => `${formatNumber(e.year?.tdsMgL ?? e.worst.fill.tankTdsMgL, 2)} mg/L as drunk over the year`,
    short: (e) => `${formatNumber(e.year?.tdsMgL ?? e.worst.fill.tankTdsMgL, 2)} mg/L`,
  },
  {
    name: 'Least room',
    of: (e, c) => tankL(e, c),
    words: (e, c) => (e.design.tankId === null ? 'no tank' : `a ${formatNumber(tankL(e, c), 2)} L tank`),
    short: (e, c) => (e.design.tankId === null ? 'no tank' : `a ${formatNumber(tankL(e, c), 2)} L tank`),
  },
  {
    name: 'Lowest running cost',
    of: (e) => e.year?.cost ?? Infinity,
    words: (e) => `${formatNumber(e.year?.cost ?? 0, 2)} a year`,
    short: (e) => formatNumber(e.year?.cost ?? 0, 2),
  },
  {
    name: 'Least electricity',
    of: (e, c) => powerW(e.design, c),
    words: (e, c) => powerWords(powerW(e.design, c)),
    short: (e, c) => powerWords(powerW(e.design, c)),
  },
];

/** What the other school is better and worse at here, in figures. */
function schoolWords(e: Evaluation, chosen: Evaluation): string {
  const direct = e.worst.direct ?? chosen.worst.direct;
  const n = formatNumber;
  if (!direct) return '';
  const drain = `${n(waste(e), 2)} L to the drain for each litre, against ${n(waste(chosen), 2)}`;
  const glass = `${n(direct.tapFlowLMin, 2)} L/min as long as the tap is open, the first glass of the day near ${n(direct.firstGlassTdsMgL, 2)} mg/L`;
  return e.worst.direct
    ? `${drain}; ${glass}`
    : `${n(e.worst.usableL, 2)} L in store, no salty first glass${e.design.pumpId === null ? ', no electricity' : ''}; against ${glass}`;
}

/**
 * Up to four other working designs, each better than the chosen one at something a household can feel.
 * @param solved works a design out finely: the figures told are those the comparison shows
 */
export function alternativesTo(
  chosen: Evaluation,
  working: readonly Evaluation[],
  catalogue: Catalogue,
  solved: (e: Evaluation) => Evaluation = (e) => e,
): Alternative[] {
  const out: Alternative[] = [];
  const taken: Design[] = [chosen.design];
  const free = (e: Evaluation): boolean => !taken.some((d) => sameDesign(d, e.design));
  const put = (e: Evaluation, title: string, winsOn: (fine: Evaluation) => string): void => {
    taken.push(e.design);
    const evaluation = solved(e);
    // one on the very edge may fall when it is worked out finely
    if (evaluation.failures.length === 0) out.push({ evaluation, title, winsOn: winsOn(evaluation) });
  };
  const against =
    (m: Measure) =>
    (fine: Evaluation): string =>
      `${m.words(fine, catalogue)}, against ${m.short(chosen, catalogue)}`;
  // the other school, where it does here at all, is always among them
  const other = working.find((e) => (e.design.tankId === null) !== (chosen.design.tankId === null));
  if (other)
    put(other, other.design.tankId === null ? 'Without a tank' : 'With a tank', (fine) => schoolWords(fine, chosen));
  for (const m of MEASURES) {
    if (out.length >= MOST) return out;
    const mine = m.of(chosen, catalogue);
    const better = working.filter((e) => mine - m.of(e, catalogue) > Math.max(1e-6, 0.08 * Math.abs(mine)) && free(e));
    // of those better at this, the one that gives up least elsewhere among the better half
    better.sort((a, b) => alike(m.of(a, catalogue)) - alike(m.of(b, catalogue)) || a.score - b.score);
    const pick = better.slice(0, Math.max(1, Math.ceil(better.length / 3))).sort((a, b) => a.score - b.score)[0];
    if (pick) put(pick, m.name, against(m));
  }
  for (const e of working) {
    if (out.length >= 2) break;
    if (!free(e)) continue;
    const m = MEASURES.find((x) => x.of(e, catalogue) < x.of(chosen, catalogue));
    if (m) put(e, m.name, against(m));
    else
      put(
        e,
        'Close behind',
        () => `no figure better; ${designInWords(e.design, catalogue)} does as well if parts are short`,
      );
  }
  return out;
}
