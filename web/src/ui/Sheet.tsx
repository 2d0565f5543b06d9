import type { HouseRules } from '@katharos/core';
import dayjs from 'dayjs';
import type { ReactElement, ReactNode } from 'react';
import { nowMs } from './clock.ts';
import './sheet.css';

/** A sheet of paper: every print of the application is made of these. Its head names the firm, the house and the day. */
export function Sheet({
  of,
  title,
  place,
  children,
}: {
  /** the firm, by its house rules */
  readonly of: Pick<HouseRules, 'firm' | 'firmPhone'>;
  readonly title: ReactNode;
  readonly place: string;
  readonly children: ReactNode;
}): ReactElement {
  return (
    <article className="paper-sheet">
      <header>
        <p>{[of.firm, of.firmPhone].filter(Boolean).join(', ')}</p>
        <h1>{title}</h1>
        <p>
          {place === '' ? '' : `${place}, `}
          {dayjs(nowMs()).format('D MMMM YYYY')}
        </p>
      </header>
      {children}
    </article>
  );
}
