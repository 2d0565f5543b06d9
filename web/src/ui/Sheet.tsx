import dayjs from 'dayjs';
import type { ReactElement, ReactNode } from 'react';
import { nowMs } from './clock.ts';
import './sheet.css';

/** A sheet of paper: every print of the application is made of these. Its head names the firm, the house and the day. */
export function Sheet({
  firm,
  title,
  place,
  children,
}: {
  readonly firm: string;
  readonly title: ReactNode;
  readonly place: string;
  readonly children: ReactNode;
}): ReactElement {
  return (
    <article className="paper-sheet">
      <header>
        <p>{firm}</p>
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
