import { PLAIN_VISIT, type DatedVisit, type FactOf, type NewFact } from '@katharos/core';
import { happened } from './jobContext.tsx';

/** A visit of a day, as a round tells of it. @param on ISO 8601 */
export function dated(on: string, reason: string, more: Partial<DatedVisit> & { visit?: Partial<NewFact> } = {}): DatedVisit {
  const { visit, ...rest } = more;
  const fact = happened({ kind: 'visit', on, reason, changed: [], ...visit } as NewFact) as FactOf<'visit'>;
  return { on, reason, fact, work: PLAIN_VISIT, brings: [], ...rest };
} // oxfmt-ignore
