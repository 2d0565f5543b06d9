import { designInWords } from '../line/design.ts';
import { formatMinutes, formatNumber } from '../quantity/format.ts';
import { partOf, type Catalogue } from '../shelf/parts.ts';
import type { Evaluation } from './evaluate.ts';

/** Another design that does, and the figure it wins on. */
export interface Alternative {
  readonly evaluation: Evaluation;
  readonly title: string;
  readonly winsOn: string;
}

interface Measure {
  readonly name: string;
  readonly of: (e: Evaluation, catalogue: Catalogue) => number;
  readonly words: (e: Evaluation, catalogue: Catalogue) => string;
  /** the same, short, for what it is compared with */
  readonly short: (e: Evaluation, catalogue: Catalogue) => string;
}

const tankL = (e: Evaluation, c: Catalogue): number =>
  e.design.tankId === null ? 0 : partOf(c, 'tank', e.design.tankId).volumeL;

/** What designs are told apart by, each smaller is better. */
const MEASURES: readonly Measure[] = [
  {
    name: 'Least to the drain',
    of: (e) => e.worst.wasteRatio,
    words: (e) => `${formatNumber(e.worst.wasteRatio, 2)} L to the drain for each litre`,
    short: (e) => `${formatNumber(e.worst.wasteRatio, 2)} L`,
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
    name: 'No electricity',
    of: (e) => (e.design.pumpId === null ? 0 : 1),
    words: (e) => (e.design.pumpId === null ? 'no pump, no socket' : 'a pump and its socket'),
    short: (e) => (e.design.pumpId === null ? 'none' : 'a pump and its socket'),
  },
];

/** What the other school is better and worse at here, in figures. */
function schoolWords(e: Evaluation, chosen: Evaluation): string {
  const direct = e.worst.direct ?? chosen.worst.direct;
  const n = formatNumber;
  if (!direct) return '';
  const waste = `${n(e.worst.wasteRatio, 2)} L to the drain for each litre, against ${n(chosen.worst.wasteRatio, 2)}`;
  const glass = `${n(direct.tapFlowLMin, 2)} L/min as long as the tap is open, the first glass of the day near ${n(direct.firstGlassTdsMgL, 2)} mg/L`;
  return e.worst.direct
    ? `${waste}; ${glass}`
    : `${n(e.worst.usableL, 2)} L in store, no salty first glass${e.design.pumpId === null ? ', no electricity' : ''}; against ${glass}`;
}

/** Up to four other working designs, each better than the chosen one at something a household can feel. */
export function alternativesTo(
  chosen: Evaluation,
  working: readonly Evaluation[],
  catalogue: Catalogue,
): Alternative[] {
  const out: Alternative[] = [];
  const taken = new Set([JSON.stringify(chosen.design)]);
  // the other school, where it does here at all, is always among them
  const other = working.find((e) => (e.design.tankId === null) !== (chosen.design.tankId === null));
  if (other) {
    taken.add(JSON.stringify(other.design));
    out.push({
      evaluation: other,
      title: other.design.tankId === null ? 'Without a tank' : 'With a tank',
      winsOn: schoolWords(other, chosen),
    });
  }
  for (const m of MEASURES) {
    const mine = m.of(chosen, catalogue);
    const better = working.filter((e) => {
      const gain = mine - m.of(e, catalogue);
      return gain > Math.max(1e-6, 0.08 * Math.abs(mine)) && !taken.has(JSON.stringify(e.design));
    });
    // of those better at this, the one that gives up least elsewhere among the better half
    better.sort((a, b) => m.of(a, catalogue) - m.of(b, catalogue));
    const pick = better.slice(0, Math.max(1, Math.ceil(better.length / 3))).sort((a, b) => a.score - b.score)[0];
    if (!pick) continue;
    taken.add(JSON.stringify(pick.design));
    out.push({
      evaluation: pick,
      title: m.name,
      winsOn: `${m.words(pick, catalogue)}, against ${m.short(chosen, catalogue)}`,
    });
  }
  for (const e of working) {
    if (out.length >= 2) break;
    if (taken.has(JSON.stringify(e.design))) continue;
    taken.add(JSON.stringify(e.design));
    const m = MEASURES.find((x) => x.of(e, catalogue) < x.of(chosen, catalogue));
    out.push({
      evaluation: e,
      title: m ? m.name : 'Close behind',
      winsOn: m
        ? `${m.words(e, catalogue)}, against ${m.short(chosen, catalogue)}`
        : `no figure better; ${designInWords(e.design, catalogue)} does as well if parts are short`,
    });
  }
  return out.slice(0, 4);
}
