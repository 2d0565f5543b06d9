import { historyOf, HISTORY_KINDS, type HistoryKind } from '@katharos/core';
import { Chip, TextInput } from '@mantine/core';
import dayjs from 'dayjs';
import { useMemo, useState, type ReactElement } from 'react';
import { CsvButton } from '../../ui/Csv.tsx';
import { useJobFacts } from '../../job/useJob.ts';

const KINDS = Object.keys(HISTORY_KINDS) as HistoryKind[];
/** So many lines are shown before more is asked for. */
const PAGE = 60;

/** The whole of a house's history, found by kind and by word. */
export function History(): ReactElement {
  const { facts, designs, personName } = useJobFacts();
  const [kinds, setKinds] = useState<string[]>([]);
  const [find, setFind] = useState('');
  const [shown, setShown] = useState(PAGE);
  const all = useMemo(() => historyOf(facts, designs), [facts, designs]);
  const word = find.trim().toLowerCase();
  const lines = all.filter(
    (l) =>
      (kinds.length === 0 || kinds.includes(l.of)) &&
      (word === '' || `${l.words} ${personName(l.by)}`.toLowerCase().includes(word)),
  );
  return (
    <details className="history">
      <summary>Everything that happened here, {String(all.length)} lines</summary>
      <div className="history-find no-print">
        <Chip.Group multiple value={kinds} onChange={setKinds}>
          {KINDS.map((k) => (
            <Chip key={k} value={k} size="xs">
              {HISTORY_KINDS[k]}
            </Chip>
          ))}
        </Chip.Group>
        <TextInput
          aria-label="Find in the history"
          placeholder="Find a word, a person"
          size="xs"
          value={find}
          onChange={(e) => {
            setFind(e.currentTarget.value);
          }}
        />
        <CsvButton
          name="history.csv"
          rows={() => lines.map((l) => ({ at: l.at, by: personName(l.by), of: HISTORY_KINDS[l.of], words: l.words }))}
          disabled={lines.length === 0}
        />
      </div>
      {lines.length === 0 && <p className="empty">Nothing of that.</p>}
      <ol className="history-lines">
        {lines.slice(0, shown).map((l, i) => {
          const day = dayjs(l.at).format('D MMM YYYY');
          const before = lines[i - 1];
          return (
            <li key={l.id} data-marked={l.marked}>
              <span className="history-day">{before && dayjs(before.at).format('D MMM YYYY') === day ? '' : day}</span>
              <span>
                {l.words} <small>{personName(l.by)}</small>
                {l.sheet && (
                  <details className="history-sheet">
                    <summary>What it said</summary>
                    {l.sheet.map((w, k) => (
                      <p key={String(k)}>{w}</p>
                    ))}
                  </details>
                )}
              </span>
            </li>
          );
        })}
      </ol>
      {lines.length > shown && (
        <button
          type="button"
          className="history-more"
          onClick={() => {
            setShown(shown + PAGE);
          }}
        >
          {String(lines.length - shown)} earlier ones
        </button>
      )}
    </details>
  );
}
