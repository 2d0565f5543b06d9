import {
  FIELD_KEYS,
  jobDoubts,
  sheetOrder,
  type DesignStudy,
  type FieldKey,
  type NextReading,
  type SheetOrder,
  type Turns,
} from '@katharos/core';
import { useEffect, useMemo, useState } from 'react';
import { useJob } from '../../job/useJob.ts';
import { isTyping } from '../../ui/isTyping.ts';
import { DRAFTS } from '../../ui/useDraft.ts';
import { fieldVisible } from './fieldWords.ts';

/** What a sheet shows open, as it stands for a house. */
interface Kept {
  readonly id: string;
  readonly settled: boolean;
  readonly turning: readonly FieldKey[];
}

/** The order of the sheet. Under the hand it stays as it is: once it stands for this house, fields only come to it. */
export function useSheetOrder(study: DesignStudy | null, turns: Turns | null, sized: boolean): SheetOrder {
  const { id, decision, known, record } = useJob();
  const doubted = useMemo(
    () =>
      jobDoubts(known, record.placed)
        .filter((d) => d.weight === 'safety' || record.dismissed[d.code] === undefined)
        .sort((a, b) => Number(b.weight === 'safety') - Number(a.weight === 'safety'))
        .flatMap((d) => d.fields.slice(0, 1)),
    [known, record],
  );
  const d = decision.value ?? null;
  const now = useMemo(
    () => sheetOrder(d, study, turns, record.known, [...doubted, ...draftsOf(id)]),
    [d, study, turns, record.known, doubted, id],
  );
  const worked = study !== null && turns !== null;
  // a house that could be sized when it was opened waits for what turns it; one that is being gauged keeps what it showed
  const [kept, setKept] = useState<Kept | null>(null);
  const mine = kept?.id === id ? kept : null;
  const settled = mine ? mine.settled || worked : worked || !sized;
  // a field that moves loses the hand that is in it, and what is typed next goes astray
  const inHand = fieldInHand();
  const stands = mine && (mine.settled || inHand !== undefined) ? mine.turning : [];
  const come = now.turning.filter((k) => k !== inHand);
  const turning = [...new Set([...stands, ...come])].filter((k) => !now.first.includes(k) && fieldVisible(k, known));
  if (mine?.settled !== settled || mine.turning.join() !== turning.join()) setKept({ id, settled, turning });
  return { first: now.first, turning };
}

/** The field a hand is in, with all that stands in its row. */
const fieldInHand = (): string | undefined =>
  document.activeElement?.closest<HTMLElement>('[data-field]')?.dataset.field;

/** Fields in which something was typed and not taken in yet. */
function draftsOf(jobId: string): FieldKey[] {
  return FIELD_KEYS.filter((k) => localStorage.getItem(`${DRAFTS}${jobId}.${k}`) !== null);
}

/** N goes to the next reading; with Alt also out of a field or a list, which take the letter themselves. */
export function useNextKey(next: NextReading | null, goTo: (field: FieldKey) => void): void {
  useEffect(() => {
    const key = (e: KeyboardEvent): void => {
      if (e.key.toLowerCase() !== 'n' || next === null || next.kind === 'settled') return;
      if (isTyping(e) && !(e.altKey && !e.ctrlKey && !e.metaKey)) return;
      e.preventDefault();
      goTo(next.field);
    };
    window.addEventListener('keydown', key);
    return () => {
      window.removeEventListener('keydown', key);
    };
  }, [next, goTo]);
}
