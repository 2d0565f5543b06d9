import { happeningRow } from '../keep/happening.ts';
import { CAME_OUT_WORDS } from '../keep/ownRecord.ts';
import { soughtRow, WATER_WORDS } from '../keep/sample.ts';
import type { Fact } from '../facts/facts.ts';
import { gaugeField } from '../gauge/fields.ts';
import { CUPBOARD_THINGS } from '../gauge/place.ts';
import { EXTRAS } from '../plumb/extras.ts';
import { inSentence } from '../quantity/format.ts';
import { COMPLAINTS } from '../prove/complaint.ts';
import { AGREED_STEP, CHANGE_STEP, JOINT_STEP } from '../words/stored.ts';
import { jointsOf } from '../system/system.ts';
import type { DesignVersion } from './version.ts';

/** What a line of a house's history is about, for whoever looks for one thing. */
export const HISTORY_KINDS = {
  found: 'read and found',
  decided: 'decided and agreed',
  built: 'put in',
  wetted: 'flushed and looked at',
  kept: 'visits and changes',
  said: 'notes and pictures',
} as const;
export type HistoryKind = keyof typeof HISTORY_KINDS;

/** One thing that happened at a house; many small ones of a kind, by one person on one day, are one line. */
export interface HistoryLine {
  readonly id: string;
  /** when it was, ISO 8601 */
  readonly at: string;
  readonly by: string;
  readonly of: HistoryKind;
  readonly words: string;
  /** it stands out: a drip, a proof that was not good, something taken back */
  readonly marked: boolean;
  /** a sheet they were given, a line each, as it was */
  readonly sheet?: readonly string[];
}

/** What is told of one fact; `many` gathers those of a day into one line: "34 joints made". */
interface Told {
  readonly of: HistoryKind;
  readonly words: string;
  readonly marked?: boolean;
  readonly at?: string;
  readonly sheet?: readonly string[];
  readonly many?: { readonly as: string; readonly words: (count: number) => string };
}

/** Names of what a house's designs hold. */
class Names {
  private readonly slots = new Map<string, string>();
  private readonly steps = new Map<string, string>();
  private readonly joints = new Map<string, string>();
  constructor(designs: readonly DesignVersion[], facts: readonly Fact[]) {
    for (const f of facts) if (f.kind === 'change') for (const s of f.sheet) this.steps.set(s.key, s.title);
    for (const d of designs) {
      for (const c of d.system.components) this.slots.set(c.id, c.slot);
      for (const s of d.sheet) this.steps.set(s.key, s.title);
      for (const j of jointsOf(d.system)) this.joints.set(j.id, `joint ${String(j.number)}, ${j.component.slot}`);
    }
  }
  slot = (id: string): string => this.slots.get(id) ?? 'a part that is gone';
  step = (key: string): string => this.steps.get(key) ?? key;
  joint = (id: string): string => this.joints.get(id) ?? 'a joint that is gone';
}

const counted =
  (one: string, many: string) =>
  (n: number): string =>
    n === 1 ? one : `${String(n)} ${many}`;
const noted = (note: string | undefined): string => (note === undefined || note === '' ? '' : `: ${note}`);

function tickTold(f: Extract<Fact, { kind: 'tick' }>, names: Names): Told {
  if (f.step.startsWith(JOINT_STEP)) {
    const words = counted(`${names.joint(f.step.slice(JOINT_STEP.length))}, made`, 'joints made');
    return f.done
      ? { of: 'built', words: words(1), many: { as: 'joints', words } }
      : { of: 'built', words: `${names.joint(f.step.slice(JOINT_STEP.length))}, undone`, marked: true };
  }
  if (f.step.startsWith(AGREED_STEP))
    return { of: 'decided', words: `${f.done ? 'Agreed' : 'No longer agreed'}${noted(f.note)}` };
  const read = f.read === undefined ? '' : `, read ${String(f.read)}`;
  return {
    of: f.step.startsWith(CHANGE_STEP) ? 'kept' : 'wetted',
    words: `${names.step(f.step)}${f.done ? '' : ', undone'}${read}${noted(f.note)}`,
    marked: !f.done,
  };
}

/** What a fact tells; null where it is of the page's drawing and of no use to whoever looks back. */
function told(f: Fact, names: Names, byId: ReadonlyMap<string, Fact>): Told | null {
  switch (f.kind) {
    case 'reading': {
      const { label } = gaugeField(f.field);
      if (f.value === null) return { of: 'found', words: `${label} taken back`, marked: true };
      const by = f.instrument === undefined || f.instrument === '' ? '' : `, ${f.instrument}`;
      return { of: 'found', words: `${label}: ${f.typed}${by}${noted(f.note)}` };
    }
    case 'use':
      return { of: 'found', words: `${gaugeField(f.field).label}: another reading is used${noted(f.reason)}` };
    case 'dismiss':
      return f.reason === '' ? null : { of: 'found', words: `A doubt was looked at and does not hold here: ${f.reason}` };
    case 'habits':
      return { of: 'found', words: 'Their day was drawn' };
    case 'place':
      return {
        of: 'found',
        words: `${CUPBOARD_THINGS[f.thing].label} drawn`,
        many: { as: 'place', words: counted('One thing of the cupboard drawn', 'things of the cupboard drawn') },
      };
    case 'tick':
      return tickTold(f, names);
    case 'timer':
      return f.action === 'start' ? { of: 'wetted', words: `${names.step(f.step)}: clock started` } : null;
    case 'look':
      return f.result === 'drip'
        ? { of: 'wetted', words: `${names.joint(f.joint)} drips${noted(f.note)}`, marked: true }
        : {
            of: 'wetted',
            words: `${names.joint(f.joint)} dry${noted(f.note)}`,
            // what was written beside it is not lost among the others
            ...(f.note ? {} : { many: { as: `dry ${f.round}`, words: counted('One joint looked at, dry', 'joints looked at, dry') } }),
          };
    case 'proof': {
      const grade = f.judged?.grade;
      const mended = f.mended ? `After a repair (${f.mended.done.replace(/\.$/, '')}). ` : '';
      return { of: 'found', words: `Proof. ${mended}${f.judged?.sentence ?? 'Kept without a verdict.'}${noted(f.note)}`, marked: grade !== undefined && grade !== 'good' };
    }
    case 'visit': {
      const changed = f.changed.length === 0 ? '' : `; changed ${f.changed.map(names.slot).join(', ')}`;
      return { of: 'kept', words: `Visit: ${f.reason}${changed}${noted(f.note)}`, ...(f.on === undefined ? {} : { at: f.on }) };
    }
    case 'call':
      return { of: 'said', words: `They called: ${COMPLAINTS[f.complaint]}${noted(f.words)}`, marked: true };
    case 'change':
      return { of: 'kept', words: `Change begun: ${f.reason}` };
    case 'fitted':
      return { of: 'kept', words: `${names.slot(f.component)}: ${f.part.name} went in${f.serial === '' ? '' : `, ${f.serial}`}` };
    case 'happened':
      return { of: 'said', words: `${happeningRow(f.event).label}${noted(f.words)}`, marked: true, ...(f.from === undefined || f.event === 'away' ? {} : { at: f.from }) };
    case 'billed':
      return { of: 'kept', words: `Billed: ${String(f.minutes)} min of work, ${String(f.travelMin)} of travel` };
    case 'came-out':
      return { of: 'kept', words: `${names.slot(f.component)} came out: ${CAME_OUT_WORDS[f.state]}${noted(f.note)}`, marked: f.state === 'spent' };
    case 'sampled':
      return { of: 'found', words: `Sample of the ${WATER_WORDS[f.water]} for the laboratory: ${soughtRow(f.sought).label}${noted(f.words)}`, ...(f.on === undefined ? {} : { at: f.on }) };
    case 'answered':
      return { of: 'found', words: `The laboratory found ${f.finding === 'clean' ? 'nothing above its limit' : 'it not clean'}${noted(f.words)}`, marked: f.finding === 'not-clean' };
    case 'handed':
      return { of: 'said', words: `Given to them on paper: ${f.title}`, sheet: f.lines };
    case 'carries':
      return { of: 'built', words: `Put in beside the sizing: ${inSentence(EXTRAS[f.extra].label)}, ${f.part.name}` };
    case 'stock-out':
      return { of: 'built', words: `${String(f.parts.length)} kinds of parts taken out of the ${f.from}` };
    case 'stands':
    case 'tube-way':
    case 'tube-run':
      return { of: 'built', words: 'Laid out', many: { as: 'laid out', words: () => 'Laid out, as it stands and its tubes run' } };
    case 'tube-colour':
      return { of: 'built', words: `Tube to the ${f.branch}: ${f.colour}` };
    case 'photo':
      return { of: 'said', words: `Photograph${noted(f.note)}` };
    case 'note':
      return { of: 'said', words: f.text };
    case 'taken-back': {
      const back = byId.get(f.corrects);
      const what = back ? told(back, names, byId) : null;
      return { of: what?.of ?? 'said', words: `Taken back${what ? ` (${what.words})` : ''}${noted(f.reason)}`, marked: true };
    }
  }
} // oxfmt-ignore

/**
 * The whole of a house's history, the newest first: what was read, decided, put in, wetted, found, changed and said, by whom.
 * What was taken back stays, and says so.
 */
export function historyOf(facts: readonly Fact[], designs: readonly DesignVersion[]): HistoryLine[] {
  const names = new Names(designs, facts);
  const byId = new Map(facts.map((f) => [f.id, f]));
  const lines: HistoryLine[] = designs.map((d) => ({
    id: d.id,
    at: d.at,
    by: d.by,
    of: 'decided',
    words: `Version ${String(d.number)} approved${noted(d.reason)}`,
    marked: false,
  }));
  const gathered = new Map<string, { line: HistoryLine; count: number; words: (n: number) => string }>();
  for (const f of [...facts].sort((a, b) => a.at.localeCompare(b.at))) {
    const t = told(f, names, byId);
    if (!t) continue;
    const line = {
      id: f.id,
      at: t.at ?? f.at,
      by: f.by,
      of: t.of,
      words: t.words,
      marked: t.marked ?? false,
      ...(t.sheet ? { sheet: t.sheet } : {}),
    };
    if (!t.many) {
      lines.push(line);
      continue;
    }
    const key = `${t.many.as} ${f.by} ${f.at.slice(0, 10)}`;
    const same = gathered.get(key);
    gathered.set(key, { line: same?.line ?? line, count: (same?.count ?? 0) + 1, words: t.many.words });
  }
  for (const { line, count, words } of gathered.values())
    lines.push(count === 1 ? line : { ...line, words: words(count) });
  return lines.sort((a, b) => b.at.localeCompare(a.at) || a.id.localeCompare(b.id));
}
