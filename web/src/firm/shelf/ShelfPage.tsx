import 'mantine-datatable/styles.css';
import type { Shelf } from '@katharos/contract';
import { partDoubts, partsTable, type Part } from '@katharos/core';
import { Button, NativeSelect, SegmentedControl, Switch, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconDownload, IconPlus } from '../../ui/icons.ts';
import { DataTable, type DataTableSortStatus } from 'mantine-datatable';
import Papa from 'papaparse';
import { useMemo, useState, type ReactElement } from 'react';
import { usePutPartMutation } from '../../data/api.ts';
import { errorWords } from '../../data/errors.ts';
import { download } from '../../ui/download.ts';
import { BringParts } from './BringParts.tsx';
import { KIND_WORDS, summaryOf } from './partWords.ts';
import { Cell } from './Cell.tsx';
import { PartDialog } from './PartDialog.tsx';
import { StockTable } from './StockTable.tsx';
import './shelf.css';

/** A row of the table: a part with what it is sorted by. */
interface Row {
  readonly id: string;
  readonly part: Part;
  readonly kind: string;
  readonly name: string;
  readonly price: number;
  readonly months: number;
  readonly bar: number;
  readonly says: string;
  readonly doubts: readonly string[];
}

const rowOf = (part: Part): Row => ({
  id: part.id,
  part,
  kind: KIND_WORDS[part.kind],
  name: part.name,
  price: part.price ?? Number.NaN,
  months: part.life?.months ?? Number.NaN,
  bar: part.maxPressureBar,
  says: summaryOf(part),
  doubts: partDoubts(part),
});

type SortKey = 'kind' | 'name' | 'price' | 'months' | 'bar';

function compare(a: Row, b: Row, key: SortKey): number {
  const x = a[key];
  const y = b[key];
  if (typeof x === 'number' && typeof y === 'number')
    return Number.isNaN(x) ? (Number.isNaN(y) ? 0 : 1) : Number.isNaN(y) ? -1 : x - y;
  return String(x).localeCompare(String(y));
}

/** The parts the firm puts in: found, sorted, changed in place, added, retired, out and in as a table. */
export default function ShelfPage({ shelf }: { shelf: Shelf }): ReactElement {
  const [search, setSearch] = useState('');
  const [kind, setKind] = useState('');
  const [retired, setRetired] = useState(false);
  const [sort, setSort] = useState<DataTableSortStatus<Row>>({ columnAccessor: 'kind', direction: 'asc' });
  const [editing, setEditing] = useState<Part | 'new' | null>(null);
  const [view, setView] = useState<'sheets' | 'stock'>('sheets');
  const save = useSavePart(shelf);
  const rows = useMemo(() => shelf.parts.map(rowOf), [shelf.parts]);
  const shown = useMemo(() => {
    const words = search.toLowerCase().split(/\s+/).filter(Boolean);
    const list = rows.filter(
      (r) =>
        (retired || r.part.retired !== true) &&
        (kind === '' || r.part.kind === kind) &&
        words.every((w) => `${r.name} ${r.kind} ${r.says} ${r.id}`.toLowerCase().includes(w)),
    );
    const key = sort.columnAccessor as SortKey;
    list.sort((a, b) => compare(a, b, key) || a.name.localeCompare(b.name));
    return sort.direction === 'desc' ? list.reverse() : list;
  }, [rows, search, kind, retired, sort]);
  const doubtful = rows.filter((r) => r.doubts.length > 0);
  const out = (): void => {
    const { columns, rows: table } = partsTable(shelf.parts);
    // a text that a spreadsheet would run as a formula is marked as text
    const csv = Papa.unparse(
      { fields: [...columns], data: table.map((r) => columns.map((c) => r[c] ?? '')) },
      { escapeFormulae: true },
    );
    download('parts.csv', csv, 'text/csv');
  };
  return (
    <>
      <div className="firm-head">
        <h1>Shelf</h1>
        <SegmentedControl
          aria-label="What of the parts"
          value={view}
          onChange={(v) => {
            setView(v === 'stock' ? 'stock' : 'sheets');
          }}
          data={[
            { value: 'sheets', label: 'Sheets' },
            { value: 'stock', label: 'Stock' },
          ]}
        />
        <TextInput
          aria-label="Find a part"
          placeholder="find a part"
          w={150}
          value={search}
          onChange={(e) => {
            setSearch(e.currentTarget.value);
          }}
        />
        <NativeSelect
          aria-label="Kind of part"
          w={150}
          value={kind}
          onChange={(e) => {
            setKind(e.currentTarget.value);
          }}
          data={[
            { value: '', label: 'every kind' },
            ...[...new Set(shelf.parts.map((p) => p.kind))].map((k) => ({ value: k, label: KIND_WORDS[k] })),
          ]}
        />
        <Switch
          label="retired ones too"
          checked={retired}
          onChange={(e) => {
            setRetired(e.currentTarget.checked);
          }}
        />
        {view === 'sheets' && (
          <>
            <Button
              leftSection={<IconPlus size={16} />}
              onClick={() => {
                setEditing('new');
              }}
            >
              Add a part
            </Button>
            <BringParts shelf={shelf} />
            <Button variant="default" leftSection={<IconDownload size={16} />} onClick={out}>
              Take out as CSV
            </Button>
          </>
        )}
      </div>
      {shelf.unreadableParts.length > 0 && (
        <p role="alert" className="caution">
          Stored and not readable any more, so in no list here: {shelf.unreadableParts.join(', ')}. Add a part by the
          same sheet under another id.
        </p>
      )}
      {doubtful.map((r) => (
        <p key={r.id} className="note">
          <b>{r.name}</b>: {r.doubts.join('; ')}.
        </p>
      ))}
      {view === 'stock' ? (
        <StockTable
          people={shelf.people}
          parts={shown.map((r) => r.part)}
          onLeast={(part, least) => save({ ...part, least }, part)}
        />
      ) : (
        <DataTable
          className="shelf-table"
          minHeight={180}
          records={shown}
          columns={[
            { accessor: 'kind', title: 'kind', sortable: true, width: 150 },
            {
              accessor: 'name',
              title: 'part',
              sortable: true,
              render: (r) => (
                <>
                  <button
                    type="button"
                    className="shelf-name"
                    onClick={() => {
                      setEditing(r.part);
                    }}
                  >
                    {r.name}
                    {r.part.retired === true && <small> retired</small>}
                  </button>
                  {r.part.ordinary === true && <small className="shelf-ordinary"> ordinary</small>}
                </>
              ),
            },
            { accessor: 'says', title: 'what its sheet says', width: '34%' },
            { accessor: 'bar', title: 'bears, bar', sortable: true, textAlign: 'right', width: 100 },
            {
              accessor: 'months',
              title: 'life, months',
              sortable: true,
              textAlign: 'right',
              width: 120,
              render: (r) => (
                <Cell
                  label={`Life of ${r.name}, months`}
                  value={r.part.life?.months}
                  onTake={(v) => save({ ...r.part, life: { ...r.part.life, months: v } }, r.part)}
                />
              ),
            },
            {
              accessor: 'price',
              title: `price, ${shelf.rules.currency}`,
              sortable: true,
              textAlign: 'right',
              width: 130,
              render: (r) => (
                <Cell
                  label={`Price of ${r.name}`}
                  value={r.part.price}
                  onTake={(v) => save({ ...r.part, price: v }, r.part)}
                />
              ),
            },
            {
              accessor: 'act',
              title: '',
              width: 110,
              render: (r) => (
                <Button
                  size="compact-xs"
                  variant="default"
                  aria-label={`${r.part.retired === true ? 'Put back' : 'Retire'} ${r.name}`}
                  onClick={() => {
                    void save({ ...r.part, retired: r.part.retired === true ? undefined : true }, r.part);
                  }}
                >
                  {r.part.retired === true ? 'Put back' : 'Retire'}
                </Button>
              ),
            },
          ]}
          sortStatus={sort}
          onSortStatusChange={setSort}
          noRecordsText={
            search === '' && kind === '' ? 'The shelf is empty: add a part, or bring a CSV in.' : 'No part like that.'
          }
          idAccessor="id"
          withTableBorder={false}
          verticalSpacing={4}
          fz="sm"
        />
      )}
      <p className="small">
        {shown.length} of {shelf.parts.length} parts. A retired part stays for the systems that have it and is not put
        in again. Names are generic: what counts is what the sheet says.
      </p>
      {editing !== null && (
        <PartDialog
          shelf={shelf}
          part={editing === 'new' ? null : editing}
          onClose={() => {
            setEditing(null);
          }}
        />
      )}
    </>
  );
}

/** Saves a part against its version, with an undo; the server's reason is shown where it does not take it. */
function useSavePart(shelf: Shelf): (part: Part, before: Part) => Promise<boolean> {
  const [put] = usePutPartMutation();
  const write = async (part: Part, version: number, before: Part | null): Promise<boolean> => {
    // what is undefined is a figure the part does not have
    const clean = JSON.parse(JSON.stringify(part)) as Part;
    try {
      const stored = await put({ part: clean, version }).unwrap();
      notifications.show({
        message: (
          <>
            {clean.name} saved.{' '}
            {before && (
              <Button size="compact-xs" variant="default" onClick={() => void write(before, stored.version, null)}>
                Undo
              </Button>
            )}
          </>
        ),
      });
      return true;
    } catch (e) {
      notifications.show({ color: 'red', message: errorWords(e), autoClose: 8000 });
      return false;
    }
  };
  return (part, before) => write(part, shelf.partVersions[part.id] ?? 0, before);
}
