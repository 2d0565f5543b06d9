import { gaugeField, jobDoubts, type Doubt } from '@katharos/core';
import { Button, TextInput } from '@mantine/core';
import { useMemo, useState, type ReactElement } from 'react';
import { useJob, useJobFacts } from '../../job/useJob.ts';
import { useDraft } from '../../ui/useDraft.ts';
import { shortDate } from './fieldWords.ts';

/** Doubts about the readings; each may be looked at and set aside with its reason, but for those about safety. */
export function Doubts(): ReactElement | null {
  const { known, record, add, personName } = useJob();
  const doubts = useMemo(() => jobDoubts(known, record.placed), [known, record.placed]);
  if (doubts.length === 0) return null;
  const open = doubts.filter((d) => d.weight === 'safety' || record.dismissed[d.code] === undefined);
  const aside = doubts.filter((d) => !open.includes(d));
  return (
    <>
      <h2 className="zone-title">Doubts</h2>
      {open.length === 0 && <p className="empty">None open.</p>}
      {open.map((d) => (
        <OpenDoubt key={d.code} doubt={d} />
      ))}
      {aside.length > 0 && (
        <details className="gauge-aside">
          <summary>{aside.length === 1 ? 'One set aside' : `${String(aside.length)} set aside`}</summary>
          {aside.map((d) => {
            const fact = record.dismissed[d.code];
            return (
              <p key={d.code} className="small">
                <b>{gaugeField(d.fields[0] ?? 'source').label}.</b> {d.text} Set aside by {personName(fact?.by ?? '')},{' '}
                {shortDate(fact?.at ?? '')}: {fact?.reason}{' '}
                <Button
                  size="compact-xs"
                  variant="default"
                  onClick={() => {
                    add({ kind: 'dismiss', doubt: d.code, reason: '' });
                  }}
                >
                  Raise it again
                </Button>
              </p>
            );
          })}
        </details>
      )}
    </>
  );
}

function OpenDoubt({ doubt: d }: { doubt: Doubt }): ReactElement {
  const { id, add } = useJobFacts();
  const [asking, setAsking] = useState(false);
  const [reason, setReason] = useDraft(`${id}.doubt.${d.code}`);
  const safety = d.weight === 'safety';
  return (
    <div className={safety ? 'caution' : 'note'}>
      <b>{gaugeField(d.fields[0] ?? 'source').label}.</b> {d.text}{' '}
      {!safety && !asking && (
        <Button
          size="compact-xs"
          variant="default"
          onClick={() => {
            setAsking(true);
          }}
        >
          It is so
        </Button>
      )}
      {asking && (
        <form
          className="doubt-form"
          onSubmit={(e) => {
            e.preventDefault();
            if (reason.trim() === '') return;
            add({ kind: 'dismiss', doubt: d.code, reason: reason.trim() });
            setReason('');
          }}
        >
          <TextInput
            size="xs"
            aria-label="Why it is so"
            placeholder="why it is so, for the record"
            maxLength={300}
            autoFocus
            value={reason}
            onChange={(e) => {
              setReason(e.currentTarget.value);
            }}
          />
          <Button type="submit" size="xs" disabled={reason.trim() === ''}>
            Set aside
          </Button>
        </form>
      )}
    </div>
  );
}
