import type { FactOf } from '../facts/facts.ts';
import type { JobRecord } from '../facts/record.ts';
import type { Compared } from '../prove/verdict.ts';
import type { Against } from './mayDrink.ts';

/** Total chlorine behind the carbon that is borne, mg/L. */
export const CHLORINE_BORNE_MG_L = 0.1;
/** Feed above this is on the hot line, deg C. */
const HOT_FEED_C = 38;
/** Steps whose reading is of the chlorine behind the carbon as it was left. */
const CHLORINE_STEPS = [':chlorine-after', 'strip-carbon'] as const;
/** Figures of a verdict that tell of what is drunk, with what is said where they are bad; flow and drain do not. */
const OF_WHAT_IS_DRUNK: Readonly<Partial<Record<Compared['key'], string>>> = {
  productTds: 'it lets too much salt through',
  contact: 'the water has too little time in the carbon',
  dose: 'the water has too little light',
};

/** The last chlorine read behind the carbon, by a proof or a strip of a run sheet; null where none was. */
export function lastChlorine(record: Pick<JobRecord, 'proofs' | 'ticks'>): { readonly atMs: number; readonly mgL: number } | null {
  const read = [
    ...record.proofs.flatMap((p) => (p.readings.chlorineMgL ? [{ atMs: Date.parse(p.at), mgL: p.readings.chlorineMgL.value }] : [])),
    ...Object.values(record.ticks).flatMap((t) =>
      t.done && t.read !== undefined && CHLORINE_STEPS.some((k) => t.step.endsWith(k)) ? [{ atMs: Date.parse(t.at), mgL: t.read }] : [],
    ),
  ];
  return read.reduce<(typeof read)[number] | null>((last, r) => (last && last.atMs >= r.atMs ? last : r), null);
} // oxfmt-ignore

/** What the last readings of each figure say against drinking. What only wastes water, or runs slow, says nothing. */
export function proofsAgainst(record: Pick<JobRecord, 'proofs' | 'ticks'>): Against[] {
  const lastWith = (has: (p: FactOf<'proof'>) => boolean): FactOf<'proof'> | undefined => record.proofs.findLast(has);
  const judged = lastWith((p) => p.judged !== undefined)?.judged;
  const said: string[] = (judged?.compared ?? []).flatMap((c) => (c.grade === 'act' ? (OF_WHAT_IS_DRUNK[c.key as Compared['key']] ?? []) : []));
  const chlorine = lastChlorine(record);
  if (chlorine && chlorine.mgL >= CHLORINE_BORNE_MG_L) said.push('chlorine passes the carbon');
  const warm = lastWith((p) => p.readings.temperatureC !== undefined)?.readings.temperatureC?.value ?? 0;
  if (warm > HOT_FEED_C) said.push('the feed is hot');
  const lamp = lastWith((p) => p.checks?.lamp !== undefined)?.checks?.lamp;
  return [
    ...(said.length > 0 ? [{ code: 'proof-failed' as const, about: said.join(', ') }] : []),
    ...(lamp === 'fails' ? [{ code: 'lamp-dark' as const }] : []),
  ];
} // oxfmt-ignore
