import { CHECK_KEYS, PROOF_KEYS, type CheckKey, type Checks, type ProofKey } from '@katharos/core';
import { useMemo } from 'react';
import { useDraft } from '../../ui/useDraft.ts';

/** A proof while it is typed: readings as written, what was tried, what was done since the last one. */
export interface ProofDraft {
  readonly texts: Partial<Record<ProofKey, string>>;
  readonly checks: Checks;
  readonly done: string;
}
const EMPTY: ProofDraft = { texts: {}, checks: {}, done: '' };

function draftIn(text: string): ProofDraft {
  try {
    const raw: unknown = JSON.parse(text || '{}');
    if (typeof raw !== 'object' || raw === null) return EMPTY;
    const get = (k: string): unknown => Reflect.get(raw, k);
    const texts = Object.fromEntries(PROOF_KEYS.flatMap((k) => (typeof get(k) === 'string' ? [[k, get(k)]] : [])));
    const checks = Object.fromEntries(
      CHECK_KEYS.flatMap((k): [CheckKey, unknown][] => {
        const v = get(`tried ${k}`);
        return v === 'works' || v === 'fails' ? [[k, v]] : [];
      }),
    );
    const done = get('done');
    return { texts, checks, done: typeof done === 'string' ? done : '' };
  } catch {
    return EMPTY;
  }
}

/** All of it in one entry, so that a reload brings it back together. */
export function useProofDraft(jobId: string): [ProofDraft, (d: Partial<ProofDraft>) => void] {
  const [text, setText] = useDraft(`${jobId}.proof`);
  const draft = useMemo(() => draftIn(text), [text]);
  return [
    draft,
    (change) => {
      const { texts, checks, done } = { ...draft, ...change };
      const tried = Object.entries(checks).map(([k, v]) => [`tried ${k}`, v]);
      const all = [...Object.entries(texts), ...tried, ['done', done]].filter(([, v]) => v !== '');
      setText(all.length > 0 ? JSON.stringify(Object.fromEntries(all)) : '');
    },
  ];
}
