import { choiceWords, GAUGE_FIELDS, type FieldKey, type Known } from '../gauge/fields.ts';
import { findPart, type Catalogue, type Part } from '../parts/catalogue.ts';
import { formatReading, inSentence } from '../quantity/format.ts';
import { RULE_TEXTS } from '../rules/ruleTexts.ts';
import type { HouseRules } from '../rules/rules.ts';
import { systemDifferences, type System } from '../system/system.ts';
import { readingsMoved, type DesignVersion } from './version.ts';

/** What differs now from what a design was approved with; none of it changes the design. */
export interface Since {
  /** parts that the readings would lead to now, against those put in */
  readonly parts: readonly { readonly what: string; readonly from: string; readonly to: string }[];
  /** what else has been edited: shelf, readings, rules, each in a sentence */
  readonly edits: readonly string[];
}

/** The figures a part is told apart by, in words. */
function partWords(p: Part): Readonly<Record<string, string>> {
  const n = formatReading;
  const own: Record<string, string> = { name: p.name, bears: `${n(p.maxPressureBar)} bar` };
  if (p.kind === 'element') {
    own.rating = `${n(p.rating.permeateLDay, 4)} L a day`;
    own.rejection = `${n(100 * p.rating.rejection, 4)} % held back`;
  }
  if (p.kind === 'tank') own.volume = `${n(p.volumeL)} L, charged to ${n(p.airChargeBar)} bar`;
  if (p.kind === 'restrictor') own.flow = `${n(p.flow.flowLDay, 4)} L a day at ${n(p.flow.atBar)} bar`;
  if (p.life) own.life = [p.life.months ? `${n(p.life.months)} months` : '', p.life.litres ? `${n(p.life.litres, 5)} L` : ''].filter(Boolean).join(' or '); // oxfmt-ignore
  if (p.price !== undefined) own.price = n(p.price, 4);
  return own;
}

/** What the shelf says otherwise of a part than when it was put in; empty where nothing. */
function shelfEdits(system: System, catalogue: Catalogue): string[] {
  const seen = new Set<string>();
  return system.components.flatMap((c) => {
    if (!c.part || seen.has(c.part.id)) return [];
    seen.add(c.part.id);
    const now = findPart(catalogue, c.part.id);
    if (!now) return [`The shelf no longer has ${c.part.name}.`];
    const [before, after] = [partWords(c.part), partWords(now)];
    const changed = Object.keys({ ...before, ...after }).filter((k) => before[k] !== after[k]);
    if (changed.length === 0) return [];
    const words = changed.map((k) => `${k} ${after[k] ?? 'none'}, was ${before[k] ?? 'none'}`);
    return [`The shelf now says of ${c.part.name}: ${words.join('; ')}.`];
  });
}

const valueWords = (field: FieldKey, v: number | string | undefined): string => {
  if (v === undefined) return 'not read';
  const f = GAUGE_FIELDS[field];
  return f.type === 'choice' ? choiceWords(f, v) : `${formatReading(Number(v))} ${f.unit}`.trim();
}; // oxfmt-ignore

/**
 * What differs since a design was approved.
 * @param leadsTo the system the readings lead to now; null where they lead to none
 */
export function sinceApproved(
  version: DesignVersion,
  built: System,
  leadsTo: System | null,
  known: Known,
  catalogue: Catalogue,
  rules: HouseRules,
): Since {
  const { judged } = version;
  const readings = readingsMoved(judged, known).map(
    (k) =>
      `${GAUGE_FIELDS[k].label} reads ${valueWords(k, known[k])} now, ${valueWords(k, judged.known[k])} when it was approved.`,
  );
  const ruled = (Object.keys(RULE_TEXTS) as (keyof HouseRules)[]).filter((k) => RULE_TEXTS[k].group !== 'Devices' && judged.rules[k] !== rules[k]);
  return {
    parts: leadsTo ? systemDifferences(built, leadsTo) : [],
    edits: [
      ...shelfEdits(built, catalogue),
      ...readings,
      ...ruled.map((k) => `House rule, ${inSentence(RULE_TEXTS[k].label)}: ${String(rules[k])} now, ${String(judged.rules[k])} when it was approved.`),
    ],
  };
} // oxfmt-ignore
