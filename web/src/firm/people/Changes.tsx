import type { Change, FirmPerson } from '@katharos/contract';
import { Button, NativeSelect, Table } from '@mantine/core';
import dayjs from 'dayjs';
import { useEffect, useState, type ReactElement } from 'react';
import { Link } from 'react-router';
import { useLazyGetAuditQuery } from '../../data/api.ts';
import { errorWords } from '../../data/errors.ts';

/** Who changed what, the latest first: the database writes it down with each change, and nobody can take a line away. */
export function Changes({ people }: { readonly people: readonly FirmPerson[] }): ReactElement {
  const [person, setPerson] = useState('');
  const [lines, setLines] = useState<readonly Change[]>([]);
  const [next, setNext] = useState<string | null>(null);
  const [read, { error, isFetching }] = useLazyGetAuditQuery();
  const more = async (before: string | null, so_far: readonly Change[]): Promise<void> => {
    const page = await read({ ...(before === null ? {} : { before }), ...(person === '' ? {} : { person }) });
    if (!page.data) return;
    setLines([...so_far, ...page.data.changes]);
    setNext(page.data.next);
  };
  useEffect(() => {
    void more(null, []);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- read anew for another person only
  }, [person]);
  return (
    <section aria-labelledby="changes-title">
      <div className="people-changes">
        <h2 className="zone-title" id="changes-title">
          Who changed what
        </h2>
        <NativeSelect
          size="xs"
          aria-label="Of whom"
          value={person}
          data={[{ value: '', label: 'everybody' }, ...people.map((p) => ({ value: p.id, label: p.name }))]}
          onChange={(e) => {
            setPerson(e.currentTarget.value);
          }}
        />
      </div>
      {error !== undefined && <p role="alert">{errorWords(error)}</p>}
      {error === undefined && !isFetching && lines.length === 0 && <p className="empty">Nothing yet.</p>}
      <div className="people-table">
        <Table verticalSpacing={4}>
          <Table.Tbody>
            {lines.map((c) => (
              <Table.Tr key={c.seq}>
                <Table.Td className="people-when">{dayjs(c.at).format('D MMM, HH:mm:ss')}</Table.Td>
                <Table.Td>{c.by === '' ? 'the application' : c.by}</Table.Td>
                <Table.Td>
                  {c.what}
                  {c.about !== '' && <span className="small"> {c.about}</span>}
                  {c.jobId !== null && (
                    <>
                      {' '}
                      <Link to={`/jobs/${c.jobId}`}>job</Link>
                    </>
                  )}
                </Table.Td>
                <Table.Td className="small">{differenceWords(c.before, c.after)}</Table.Td>
              </Table.Tr>
            ))}
          </Table.Tbody>
        </Table>
      </div>
      {next !== null && (
        <Button size="compact-sm" variant="default" loading={isFetching} onClick={() => void more(next, lines)}>
          Earlier ones
        </Button>
      )}
    </section>
  );
}

/** What differs between two documents, field by field; '' where there is nothing to compare. */
function differenceWords(before: unknown, after: unknown): string {
  if (typeof before !== 'object' || before === null || typeof after !== 'object' || after === null) return '';
  const words = (v: unknown): string => (typeof v === 'string' ? (v === '' ? 'empty' : v) : (JSON.stringify(v) ?? 'none'));
  const was = before as Record<string, unknown>;
  return Object.entries(after)
    .filter(([k, v]) => JSON.stringify(was[k]) !== JSON.stringify(v))
    .map(([k, v]) => `${k}: ${words(was[k])} → ${words(v)}`)
    .join('; ')
    .slice(0, 300);
} // prettier-ignore
