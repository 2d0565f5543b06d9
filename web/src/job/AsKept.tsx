import dayjs from 'dayjs';
import type { ReactElement } from 'react';
import { useAppSelector } from '../data/store.ts';

/** Says that what is shown is as this device kept it, and since when. @param what "This job" @param also what that means here */
export function AsKept({ path, what, also }: { path: string; what: string; also: string }): ReactElement | null {
  const heardMs = useAppSelector((s) => s.kept.shown[path]);
  if (heardMs === undefined) return null;
  const heard = dayjs(heardMs);
  return (
    <p className="note as-kept" role="status">
      The server is away. {what} is as it was{' '}
      {heard.isSame(dayjs(), 'day') ? `at ${heard.format('HH:mm')}` : `on ${heard.format('D MMM, HH:mm')}`}. {also}
    </p>
  );
}
