import {
  choiceWords,
  FIELD_KEYS,
  formatReading,
  gaugeField,
  guessColumns,
  guessLimitColumn,
  headingLine,
  labFindings,
  labReadings,
  readLab,
  signOfSheet,
  tdsPerUSCm,
  type DecimalSign,
  type FieldKey,
  type LabColumns,
  type LabFinding,
  type LabRow,
  type LabValue,
} from '@katharos/core';
import { Button, FileButton, Group, Modal, NativeSelect } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import Papa from 'papaparse';
import { memo, useMemo, useRef, useState, type DragEvent, type ReactElement } from 'react';
import { download } from '../../ui/download.ts';
import { useJobFacts } from '../../job/useJob.ts';
import { decodeText } from '../../ui/decodeText.ts';
import { useDraft } from '../../ui/useDraft.ts';
import { GrowingText } from '../../ui/GrowingText.tsx';

interface Sheet {
  readonly name: string;
  readonly headings: readonly string[];
  readonly rows: readonly LabRow[];
}

/** A report is taken from a file dropped or chosen, or pasted; shown first, then taken over as readings. */
const LabReport = memo(function LabReport(): ReactElement {
  const { id, record } = useJobFacts();
  const [sheet, setSheet] = useState<Sheet | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [pasted, setPasted] = useDraft(`${id}.laboratory`);
  const [pasting, setPasting] = useState(false);
  const reset = useRef<() => void>(null);
  const open = (name: string, text: string): void => {
    setFault(null);
    const { data } = Papa.parse<string[]>(text.trim(), { skipEmptyLines: 'greedy' });
    // titles and addresses may stand above the line that names the columns
    const [headings = [], ...lines] = data.slice(headingLine(data));
    if (headings.length < 2 || lines.length === 0) {
      setFault(`${name} has no rows: one line names the columns, each further one a substance.`);
      return;
    }
    const named = headings.map((h, i) => (h.trim() === '' ? `column ${String(i + 1)}` : h.trim()));
    const rows = lines.map((l): LabRow => Object.fromEntries(named.map((h, i) => [h, l[i] ?? ''])));
    setSheet({ name, headings: named, rows });
  };
  const read = async (file: File | null): Promise<void> => {
    reset.current?.();
    if (file) open(file.name, decodeText(new Uint8Array(await file.arrayBuffer())));
  };
  const drop = (e: DragEvent): void => {
    e.preventDefault();
    void read(e.dataTransfer.files[0] ?? null);
  };
  const out = (): void => {
    const rows = FIELD_KEYS.filter((k) => gaugeField(k).group === 'water').flatMap((k) => {
      const r = record.readings[k];
      return r ? [{ Parameter: gaugeField(k).label, Result: r.typed.replace(/\s.*$/, ''), Unit: r.typed.replace(/^\S+\s*/, '') }] : []; // oxfmt-ignore
    });
    download('water.csv', Papa.unparse(rows), 'text/csv');
  };
  return (
    <div
      className="lab"
      onDragOver={(e) => {
        e.preventDefault();
      }}
      onDrop={drop}
    >
      <Group gap="xs">
        <FileButton accept="text/csv,.csv,text/plain" resetRef={reset} onChange={(f) => void read(f)}>
          {(props) => (
            <Button {...props} size="xs" variant="default">
              Bring a report in
            </Button>
          )}
        </FileButton>
        <Button
          size="xs"
          variant="default"
          onClick={() => {
            setPasting(!pasting);
          }}
        >
          Paste one
        </Button>
        <Button size="xs" variant="default" onClick={out}>
          Take the water out
        </Button>
      </Group>
      {pasting && (
        <>
          <GrowingText
            aria-label="Report, pasted"
            placeholder="Parameter, Result, Unit: one substance a line"
            minRows={3}
            maxRows={8}
            mt="xs"
            value={pasted}
            onChange={(e) => {
              setPasted(e.currentTarget.value);
            }}
          />
          <Button
            size="xs"
            mt={6}
            disabled={pasted.trim() === ''}
            onClick={() => {
              open('What was pasted', pasted);
            }}
          >
            Look at it
          </Button>
        </>
      )}
      {fault !== null && (
        <p role="alert" className="caution">
          {fault}
        </p>
      )}
      <p className="small">
        A CSV of any language: columns are guessed and may be set. <a href="/sample-laboratory.csv">A sample.</a>
      </p>
      {sheet && (
        <Preview
          sheet={sheet}
          onClose={() => {
            setSheet(null);
          }}
          onTaken={() => {
            setSheet(null);
            setPasted('');
            setPasting(false);
          }}
        />
      )}
    </div>
  );
});

function Preview({
  sheet,
  onClose,
  onTaken,
}: {
  sheet: Sheet;
  onClose: () => void;
  onTaken: () => void;
}): ReactElement {
  const { add, record } = useJobFacts();
  const [columns, setColumns] = useState<LabColumns>(() => guessColumns(sheet.headings));
  const [fields, setFields] = useState<Readonly<Record<number, FieldKey | null>>>({});
  const perUSCm = tdsPerUSCm(record.known);
  const [said, setSaid] = useState<DecimalSign | null>(null);
  const sign = said ?? signOfSheet(sheet.rows, columns);
  const values = useMemo(
    () => readLab(sheet.rows, columns, fields, perUSCm, sign),
    [sheet.rows, columns, fields, perUSCm, sign],
  );
  const findings = useMemo(
    () => labFindings(sheet.rows, columns, guessLimitColumn(sheet.headings), sign),
    [sheet, columns, sign],
  );
  const readings = labReadings(values, sign);
  const open = values.some((v) => v.either !== undefined);
  const summed = readings.find((r) => values.every((v) => v.field !== r.field));
  const faults = values.filter((v) => v.fault !== null).length;
  const choices = FIELD_KEYS.filter((k) => gaugeField(k).group === 'water' && (gaugeField(k).type === 'quantity' || k === 'laboratory')); // oxfmt-ignore
  const inPlaceOf = (v: LabValue): string => {
    const before = v.field === null || v.value === null ? undefined : record.readings[v.field];
    return before ? `in place of ${[before.typed, before.instrument].filter(Boolean).join(', ')}` : '';
  };
  const take = (): void => {
    add(
      ...readings.map((r) => {
        const before = record.readings[r.field];
        return {
          kind: 'reading' as const,
          field: r.field,
          value: r.value,
          typed: r.typed,
          instrument: 'laboratory',
          place: sheet.name.slice(0, 60),
          ...(before?.instrument === 'laboratory' ? { corrects: before.id } : {}),
        };
      }),
    );
    notifications.show({ message: `${String(readings.length)} readings taken over from ${sheet.name}.` });
    onTaken();
  };
  return (
    <Modal opened onClose={onClose} title={`What ${sheet.name} says`} size="xl">
      <Group grow align="flex-start">
        {(['name', 'value', 'unit'] as const).map((c) => (
          <NativeSelect
            key={c}
            label={{ name: 'Substance is in', value: 'Figure is in', unit: 'Unit is in' }[c]}
            size="xs"
            value={columns[c] ?? ''}
            data={[{ value: '', label: 'none of them' }, ...sheet.headings.map((h) => ({ value: h, label: h }))]}
            onChange={(e) => {
              setColumns({ ...columns, [c]: e.currentTarget.value === '' ? null : e.currentTarget.value });
            }}
          />
        ))}
        <NativeSelect
          label="Decimals are written"
          size="xs"
          value={sign ?? ''}
          error={open ? 'Which sign stands before the decimals?' : undefined}
          data={[
            ...(sign === null ? [{ value: '', label: 'not known' }] : []),
            { value: ',', label: 'with a comma: 7,4' },
            { value: '.', label: 'with a point: 7.4' },
          ]}
          onChange={(e) => {
            setSaid(e.currentTarget.value === ',' ? ',' : e.currentTarget.value === '.' ? '.' : null);
          }}
        />
      </Group>
      <table className="quiet-table lab-table">
        <thead>
          <tr>
            <th>as it stands</th>
            <th>is</th>
            <th className="num">taken as</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {values.map((v) => {
            const f = v.field === null ? null : gaugeField(v.field);
            return (
              <tr key={v.row}>
                <td>
                  {v.name} <b>{v.text}</b> {v.unit}
                </td>
                <td>
                  <NativeSelect
                    size="xs"
                    aria-label={`What row ${String(v.row)} is`}
                    value={v.field ?? ''}
                    data={[
                      { value: '', label: 'left out' },
                      ...choices.map((k) => ({ value: k, label: gaugeField(k).label })),
                    ]}
                    onChange={(e) => {
                      const k = FIELD_KEYS.find((x) => x === e.currentTarget.value) ?? null;
                      setFields({ ...fields, [v.row]: k });
                    }}
                  />
                  {v.field !== null && v.guessed && <span className="small">guessed by its name</span>}
                </td>
                <td className="num">
                  {v.value === null || !f
                    ? ''
                    : f.type === 'choice'
                      ? choiceWords(f, v.value)
                      : `${v.below ? 'below ' : ''}${String(Number(Number(v.value).toPrecision(4)))}`}
                </td>
                <td className="lab-fault">{v.fault ?? inPlaceOf(v)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <Findings findings={findings} sampled={readings.some((r) => r.field === 'laboratory')} />
      <Group justify="space-between" mt="md">
        <span className="small">
          {readings.length} to take over{faults > 0 ? `, ${String(faults)} that do not read are left out` : ''}. What
          was read by hand stays among the readings.{summed && ` Hardness is worked out: ${summed.typed}.`}
        </span>
        <Button disabled={readings.length === 0} onClick={take}>
          Take them over
        </Button>
      </Group>
    </Modal>
  );
}

/** What of a report lies above the value it is held to, what its laboratory could not see, and what the rest says. */
function Findings({ findings, sampled }: { findings: readonly LabFinding[]; sampled: boolean }): ReactElement | null {
  const above = findings.filter((f) => f.above);
  const blind = findings.filter((f) => f.blind);
  const rest = findings.length - above.length - blind.length;
  if (findings.length === 0 && !sampled) return null;
  const mg = (v: number): string => `${formatReading(v, 3)} mg/L`;
  return (
    <section aria-label="Against guideline values" className="lab-findings">
      {above.map((f) => (
        <p key={f.row} className={f.of === 'health' ? 'caution' : 'note'}>
          <b>
            {f.name} {mg(f.valueMgL)}
          </b>
          , above {mg(f.limitMgL)} ({f.source}). {f.held}
        </p>
      ))}
      {blind.map((f) => (
        <p key={f.row} className="note">
          <b>{f.name}</b> below {mg(f.valueMgL)}: the laboratory saw no less, and its limit is {mg(f.limitMgL)} (
          {f.source}). It says nothing.
        </p>
      ))}
      {rest > 0 && (
        <p className="small">
          {rest === 1 ? 'One other is' : `${String(rest)} others are`} within the value they are held to. The place’s
          own limits go before any of these.
        </p>
      )}
      {sampled && (
        <p className="small">
          A count of microbes speaks of one bottle on one day: private water is sampled each year, after floods and
          works on the well, and after a lamp was put in.
        </p>
      )}
    </section>
  );
}
export default LabReport;
