import type { ReactElement } from 'react';
import dayjs from 'dayjs';
import { Link } from 'react-router';
import { useFindQuery } from '../../data/api.ts';
import { LENS_NAMES } from '../../ui/lensNames.ts';

/** What was said of any house that matches what is looked for: a serial, a joint that dripped, a note. Nothing while nothing is. */
export function FoundLines({ find }: { readonly find: string }): ReactElement | null {
  const { data, isError } = useFindQuery(find, { skip: find === '' });
  if (find === '') return null;
  if (isError) return <p className="small">Without the server only names, places and contacts are looked through.</p>;
  const said = (data?.houses ?? []).filter((h) => h.lines.length > 0);
  if (said.length === 0) return null;
  return (
    <section aria-label="Said of them">
      <h2 className="zone-title">Said of them</h2>
      <ul className="found">
        {said.map((h) => (
          <li key={h.jobId}>
            <b>{h.name}</b> <small>{h.place}</small>
            <ul>
              {h.lines.map((l) => (
                <li key={`${l.at}${l.words}`}>
                  <Link to={`/jobs/${h.jobId}/${l.lens}`}>{l.words}</Link>{' '}
                  <small>
                    {LENS_NAMES[l.lens]}, {dayjs(l.at).format('D MMM YYYY')}
                  </small>
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ul>
    </section>
  );
}
