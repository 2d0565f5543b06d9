import { worthOf, type Decision, type FieldKey, type Known, type StandingDesign } from '@katharos/core';
import type { Questions } from '../data/coreWorkers.ts';

/** What is told beside a decision, by its name there. */
export type BesideName = 'study' | 'turns' | 'bands' | 'softening' | 'vented' | 'remedies' | 'provisional';

/** The house that was decided. @param key as the workers know it */
interface House {
  readonly key: string;
  readonly known: Known;
  readonly errors: Partial<Record<FieldKey, number>>;
  /** what is approved already */
  readonly standing: StandingDesign | null;
}
type Asks<K extends BesideName> = (house: House, d: Decision) => Parameters<Questions[K]> | null;

/** What the computation is asked for each of them; null where a decision of its kind does not ask it. */
export const BESIDE: { readonly [K in BesideName]: Asks<K> } = {
  study: ({ key, known, errors }, d) =>
    d.kind === 'recommendation' ? [key, known, errors, d.chosen.design, d.contenders, d.risk] : null,
  turns: ({ key, known, standing }, d) => {
    if (d.kind === 'nothing-fits') return [key, known, null, [], 0, standing];
    return d.kind === 'recommendation' ? [key, known, d.chosen.design, d.contenders, d.risk, standing] : null;
  },
  bands: ({ key, known, errors }, d) => (d.kind === 'recommendation' ? [key, known, errors, d.chosen.design] : null),
  softening: ({ key, known, standing }, d) =>
    d.kind === 'recommendation' ? [key, known, d.chosen.design, standing] : null,
  vented: ({ key, known }, d) => (d.kind === 'recommendation' ? [key, known, d.chosen.design, worthOf(d)] : null),
  remedies: ({ key, known, errors, standing }, d) =>
    d.kind === 'nothing-fits' ? [key, known, errors, d.because, standing] : null,
  provisional: ({ key, known, errors, standing }, d) => (d.kind === 'referral' ? [key, known, errors, standing] : null),
};
