import type { Change, FirmPerson } from '@katharos/contract';
import { FIELD_KEYS, gaugeField } from '@katharos/core';
import { Button, Loader, NativeSelect, Table } from '@mantine/core';
import dayjs from 'dayjs';
import { useState, type ReactElement } from 'react';
import { Link } from 'react-router';
import { useGetAuditQuery } from '../../data/api.ts';
import { errorWords } from '../../data/errors.ts';

/** Who changed what, the latest first: the database writes it down with each change, and nobody can take a line away. */
export function Changes({ people }: { readonly people: readonly FirmPerson[] }): ReactElement {
  const [person, setPerson] = useState('');
  /** places in the list from which a page of it is shown */
  const [from, setFrom] = useState<readonly string[]>(['']);
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
            setFrom(['']);
          }}
        />
      </div>
      {from.map((before, i) => (
        <Lines
          key={`${person} ${before}`}
          before={before}
          person={person}
          {...(i === from.length - 1
            ? {
                onMore: (next: string) => {
                  setFrom([...from, next]);
                },
              }
            : {})}
        />
      ))}
    </section>
  );
}

interface LinesProps {
  readonly before: string;
  readonly person: string;
  /** shows those before a place; left out where they are shown already */
  readonly onMore?: (before: string) => void;
}

function Lines({ before, person, onMore }: LinesProps): ReactElement {
  const asked = { ...(before === '' ? {} : { before }), ...(person === '' ? {} : { person }) };
  const { data, error } = useGetAuditQuery(asked, { refetchOnMountOrArgChange: true });
  const next = data?.next ?? null;
  if (error !== undefined) return <p role="alert">{errorWords(error)}</p>;
  if (!data) return <Loader size="sm" aria-label="Reading who changed what" />;
  if (data.changes.length === 0) return <p className="empty">Nothing yet.</p>;
  return (
    <>
      <div className="people-table">
        <Table verticalSpacing={4}>
          <Table.Tbody>
            {data.changes.map((c) => (
              <Table.Tr key={c.seq}>
                <Table.Td className="people-when">{dayjs(c.at).format('D MMM, HH:mm:ss')}</Table.Td>
                <Table.Td>{c.by === '' ? 'the application' : c.by}</Table.Td>
                <Table.Td>
                  {c.what}
                  <span className="small"> {aboutWords(c)}</span>
                  {c.jobId !== null && (
                    <>
                      {' '}
                      <Link to={`/jobs/${c.jobId}`}>{c.household === '' ? 'the job' : c.household}</Link>
                    </>
                  )}
                </Table.Td>
                <Table.Td className="small">{differenceWords(c.before, c.after)}</Table.Td>
              </Table.Tr>
            ))}
          </Table.Tbody>
        </Table>
      </div>
      {onMore && next !== null && (
        <Button
          size="compact-sm"
          variant="default"
          onClick={() => {
            onMore(next);
          }}
        >
          Earlier ones
        </Button>
      )}
    </>
  );
}

/** What a line was about, in the words of its page. */
function aboutWords({ what, about, household }: Change): string {
  if (about === household) return '';
  const field = what === 'reading' ? FIELD_KEYS.find((k) => k === about) : undefined;
  return field ? gaugeField(field).label : about;
}

/** What differs between two documents, field by field; '' where there is nothing to compare. */
function differenceWords(before: unknown, after: unknown): string {
  if (typeof before !== 'object' || before === null || typeof after !== 'object' || after === null) return '';
  const words = (v: unknown): string => (typeof v === 'string' ? (v === '' ? 'empty' : v) : JSON.stringify(v));
  const was = before as Record<string, unknown>;
  return Object.entries(after)
    .filter(([k, v]) => JSON.stringify(was[k]) !== JSON.stringify(v))
    .map(([k, v]) => `${k}: ${words(was[k])} → ${words(v)}`)
    .join('; ')
    .slice(0, 300);
} // oxfmt-ignore
