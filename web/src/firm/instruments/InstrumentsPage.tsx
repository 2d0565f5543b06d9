import { StoredInstrumentSchema, type Shelf, type StoredInstrument } from '@katharos/contract';
import {
  checkState,
  formatNumber,
  formatReading,
  fromBase,
  type CheckState,
  type Instrument,
  type QuantityKind,
} from '@katharos/core';
import { Button } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconPlus } from '../../ui/icons.ts';
import dayjs from 'dayjs';
import { useState, type ReactElement } from 'react';
import { usePutInstrumentMutation } from '../../data/api.ts';
import { errorWords, problemOf } from '../../data/errors.ts';
import { CsvButton } from '../../ui/Csv.tsx';
import { useNow } from '../../ui/useNow.ts';
import { CheckDialog } from './CheckDialog.tsx';
import { InstrumentDialog } from './InstrumentDialog.tsx';
import { KIND_NAMES, WHAT_NAMES } from './instrumentWords.ts';
import './instruments.css';

const STATE_WORDS: Readonly<Record<CheckState['state'], string>> = {
  never: 'never checked',
  good: 'checked',
  overdue: 'check overdue',
  off: 'off by more than it may',
  'not-needed': 'needs no check',
};
const ORDER: readonly CheckState['state'][] = ['off', 'overdue', 'never', 'good', 'not-needed'];

/** The firm's meters: what they read, how far off they may be, and whether somebody has looked lately. */
export default function InstrumentsPage({ shelf }: { shelf: Shelf }): ReactElement {
  const now = useNow(60_000);
  const change = useChangeInstrument();
  const [editing, setEditing] = useState<StoredInstrument | 'new' | null>(null);
  const [checking, setChecking] = useState<StoredInstrument | null>(null);
  const rows = shelf.instruments
    .map((i) => ({ i, check: checkState(i, now) }))
    .sort(
      (a, b) =>
        Number(a.i.retired === true) - Number(b.i.retired === true) ||
        ORDER.indexOf(a.check.state) - ORDER.indexOf(b.check.state) ||
        a.i.name.localeCompare(b.i.name),
    );
  const wanting = rows.filter(
    (r) => r.i.retired !== true && ['off', 'overdue', 'never'].includes(r.check.state),
  ).length;
  return (
    <>
      <div className="firm-head">
        <h1>Instruments</h1>
        <span className="small">
          {wanting === 0 ? 'every check is in order' : `${String(wanting)} want checking before they are trusted`}
        </span>
        <CsvButton
          name="instruments.csv"
          disabled={rows.length === 0}
          rows={() =>
            rows.map(({ i, check }) => ({
              instrument: i.name,
              what: WHAT_NAMES[i.what],
              reads: i.reads.map((r) => KIND_NAMES[r.kind]).join(', '),
              state: STATE_WORDS[check.state],
              checkDue: check.dueMs === null ? '' : dayjs(check.dueMs).format('YYYY-MM-DD'),
              lastChecked: i.checks.at(-1)?.at.slice(0, 10) ?? '',
              inUse: i.retired === true ? 'no' : 'yes',
            }))
          }
        />
        <Button
          leftSection={<IconPlus size={16} />}
          onClick={() => {
            setEditing('new');
          }}
        >
          Add an instrument
        </Button>
      </div>
      {rows.length === 0 && (
        <p className="empty">
          No instrument is listed. Add the pen, the gauge and the jug first: their error is what a reading is worth.
        </p>
      )}
      <ul className="instruments">
        {rows.map(({ i, check }) => (
          <li key={i.id} data-state={i.retired === true ? 'retired' : check.state}>
            <div>
              <button
                type="button"
                className="instrument-name"
                onClick={() => {
                  setEditing(i);
                }}
              >
                {i.name}
              </button>
              <small>
                {WHAT_NAMES[i.what]}
                {i.retired === true && ', retired'}
                {i.address !== null &&
                  (i.address.startsWith('stand-in:') ? ', answers by a stand-in' : ', answers over the wire')}
              </small>
            </div>
            <ul className="instrument-reads">
              {i.reads.map((r) => (
                <li key={r.kind}>
                  {KIND_NAMES[r.kind]}, {shown(r.kind, r.unit, r.min)} to {shown(r.kind, r.unit, r.max)} {r.unit}, ±{' '}
                  {errorWordsOf(r)}
                </li>
              ))}
            </ul>
            <p className="instrument-check">
              <b>{STATE_WORDS[check.state]}</b>
              {check.last && (
                <>
                  {' '}
                  {dayjs(check.last.at).format('D MMM YYYY')}: read {formatReading(check.last.read, 4)} for{' '}
                  {formatReading(check.last.reference, 4)}
                  {check.off !== null &&
                    ` (${check.off >= 0 ? '+' : '−'}${formatNumber(100 * Math.abs(check.off), 2)} %)`}
                </>
              )}
              {check.dueMs !== null && <>; next by {dayjs(check.dueMs).format('D MMM YYYY')}</>}
            </p>
            <div className="instrument-acts">
              <Button
                size="compact-sm"
                variant="default"
                aria-label={`Write down a check of ${i.name}`}
                onClick={() => {
                  setChecking(i);
                }}
              >
                Check
              </Button>
              <Button
                size="compact-sm"
                variant="default"
                aria-label={`${i.retired === true ? 'Put back' : 'Retire'} ${i.name}`}
                onClick={() => void change(i, (now) => ({ ...now, retired: i.retired !== true }))}
              >
                {i.retired === true ? 'Put back' : 'Retire'}
              </Button>
            </div>
          </li>
        ))}
      </ul>
      <p className="small">
        A reading taken with one of these carries its error into the flips and the bands. An instrument that is off is
        calibrated or retired; readings taken with it since its last good check are worth taking again.
      </p>
      {editing !== null && (
        <InstrumentDialog
          instrument={editing === 'new' ? null : editing}
          taken={shelf.instruments.map((i) => i.name.toLowerCase())}
          onClose={() => {
            setEditing(null);
          }}
        />
      )}
      {checking && (
        <CheckDialog
          instrument={checking}
          onSave={(check) => change(checking, (i) => ({ ...i, checks: [...i.checks, check] }))}
          onClose={() => {
            setChecking(null);
          }}
        />
      )}
    </>
  );
}

const shown = (kind: QuantityKind, unit: string, base: number): string => formatReading(fromBase(base, kind, unit), 4);

function errorWordsOf(r: Instrument['reads'][number]): string {
  const share = r.errorShare > 0 ? `${formatReading(100 * r.errorShare, 2)} %` : '';
  // a difference has no offset: a degree more is a degree more in either scale's own size
  const fixed =
    r.errorFixed > 0
      ? `${formatReading(fromBase(r.errorFixed, r.kind, r.unit) - fromBase(0, r.kind, r.unit), 2)} ${r.unit}`
      : '';
  return [share, fixed].filter(Boolean).join(' and ') || 'nothing stated';
}

/** Changes one thing about an instrument; where somebody saved it meanwhile, on what they saved. */
function useChangeInstrument(): (of: StoredInstrument, change: (i: Instrument) => Instrument) => Promise<boolean> {
  const [put] = usePutInstrumentMutation();
  return async (of, change) => {
    let standing = of;
    for (let tries = 3; ; tries--) {
      const { version, ...instrument } = standing;
      try {
        await put({ instrument: change(instrument), version }).unwrap();
        notifications.show({ message: `${of.name} saved.` });
        return true;
      } catch (e) {
        const current = StoredInstrumentSchema.safeParse(problemOf(e)?.current).data;
        if (!current || tries === 0) {
          notifications.show({ color: 'red', message: errorWords(e), autoClose: 8000 });
          return false;
        }
        standing = current;
      }
    }
  };
}
