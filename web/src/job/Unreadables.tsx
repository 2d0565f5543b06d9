import type { ReactElement } from 'react';
import { useJob } from './useJob.ts';

/** What of a job was kept but cannot be read by this version: said, with what it holds, above every sheet. */
export function Unreadables(): ReactElement | null {
  const { unreadable } = useJob();
  if (unreadable.length === 0) return null;
  const many = unreadable.length > 1;
  return (
    <details className="note unreadables">
      <summary>
        {many ? `${String(unreadable.length)} entries` : 'An entry'} of this job cannot be read by this version of
        Katharos. {many ? 'They are' : 'It is'} kept as stored, {many ? 'count' : 'counts'} for nothing here and{' '}
        {many ? 'are' : 'is'} not in a file taken out.
      </summary>
      <ul className="plain-list">
        {unreadable.map((u) => (
          <li key={u.id}>
            {u.what === 'fact' ? 'Something recorded' : 'An approved design'}: <code>{u.said}</code>
          </li>
        ))}
      </ul>
    </details>
  );
}
