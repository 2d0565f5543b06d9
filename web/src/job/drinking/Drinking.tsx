import { drinkHeadline, MEANWHILE_WORDS, type DrinkReader, type MayDrink } from '@katharos/core';
import dayjs from 'dayjs';
import type { ReactElement } from 'react';
import { Link } from 'react-router';
import { useNow } from '../../ui/useNow.ts';
import { useJobFacts } from '../useJob.ts';
import { whenWords } from './drinkingWords.ts';
import { useDrinking } from './useDrinking.ts';
import './drinking.css';

/** Whether they may drink, why not, what must come first, what they drink meanwhile, and what stays to be heeded. */
export function DrinkingTold({
  told,
  reader,
  now,
}: {
  readonly told: MayDrink;
  readonly reader: DrinkReader;
  readonly now: number;
}): ReactElement {
  return (
    <>
      <p className="drinking-when" data-answer={told.answer}>
        {drinkHeadline(told, reader, (ms) => whenWords(ms, now))}
      </p>
      {told.causes.map((c) => (
        <div key={`${c.code}${c.is}`} className="drinking-cause">
          <p>
            <b>{c.is}</b>
            {c.expectedMs !== null && ` Expected by ${dayjs(c.expectedMs).format('D MMMM')}.`}
            {c.first.length === 1 && ` First: ${lower(c.first[0] ?? '')}`}
          </p>
          {c.first.length > 1 && (
            <ul>
              {c.first.map((f) => (
                <li key={f}>{f}</li>
              ))}
            </ul>
          )}
        </div>
      ))}
      {told.meanwhile !== null && <p>{MEANWHILE_WORDS[told.meanwhile]}</p>}
      {told.heed.length > 0 && (
        <>
          <p className="small">{told.answer === 'yes' ? 'As long as this holds:' : 'And once they may:'}</p>
          <ul>
            {told.heed.map((h) => (
              <li key={h}>{h}</li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}

const lower = (s: string): string => (/^[A-Z][a-z]/.test(s) ? s.charAt(0).toLowerCase() + s.slice(1) : s);

/** Whether they may drink, in a line, where somebody might think that they may; the sheet of the flush says it in full. */
export function DrinkingLine(): ReactElement | null {
  const { id } = useJobFacts();
  const now = useNow(60_000);
  const told = useDrinking(now);
  const [first] = told.causes;
  // before anything is put in there is nothing to drink
  if (told.causes.some((c) => c.code === 'not-put-in' || c.code === 'taken-out')) return null;
  return (
    <p className="drinking-line" data-answer={told.answer} role="status" aria-label="Drinking">
      <b>{drinkHeadline(told, 'firm', (ms) => whenWords(ms, now))}.</b>
      {first && ` ${first.is}`}
      {told.causes.length > 1 && ` And ${String(told.causes.length - 1)} more.`}{' '}
      <Link to={`/jobs/${id}/flush`} className="no-print">
        Drinking in full
      </Link>
    </p>
  );
}
