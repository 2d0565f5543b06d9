import type { HouseRules } from '@katharos/core';
import dayjs from 'dayjs';
import type { ReactNode, ReactPortal } from 'react';
import { createPortal } from 'react-dom';
import { nowMs } from './clock.ts';
import './sheet.css';

/**
 * A sheet of paper: every print of the application is made of these. Its head names the firm, the house and the day. It stands in
 * the document beside the page, so that a print has the sheets and nothing of the page or its messages.
 */
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
}): ReactPortal {
  return createPortal(
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
    </article>,
    document.body,
  );
}
