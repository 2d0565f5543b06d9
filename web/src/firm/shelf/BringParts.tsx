import type { Shelf } from '@katharos/contract';
import { findPart, reviewTable, type Part, type PartRow, type TableReview } from '@katharos/core';
import { Alert, Button, FileButton, Group, Modal } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconUpload } from '../../ui/icons.ts';
import Papa from 'papaparse';
import { useRef, useState, type ReactElement } from 'react';
import { useImportPartsMutation } from '../../data/api.ts';
import { errorWords } from '../../data/errors.ts';

/** Brings parts in from a CSV: what would change is shown first, and nothing is taken while anything is wrong. */
export function BringParts({ shelf }: { shelf: Shelf }): ReactElement {
  const [bring, { isLoading }] = useImportPartsMutation();
  const [review, setReview] = useState<{ name: string; table: TableReview } | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const reset = useRef<() => void>(null);
  const read = async (file: File | null): Promise<void> => {
    if (!file) return;
    // the same file may be chosen again once it is put right
    reset.current?.();
    setFault(null);
    const text = await file.text();
    const { data, errors, meta } = Papa.parse<PartRow>(text, { header: true, skipEmptyLines: 'greedy' });
    if (!meta.fields?.includes('id') || !meta.fields.includes('kind') || data.length === 0) {
      setFault(`${file.name} has no part in it: its first line must name the columns, id and kind among them.`);
      return;
    }
    const table = reviewTable(data, shelf.parts);
    const torn = errors.map((e) => ({ row: (e.row ?? 0) + 1, column: 'the row', message: e.message }));
    setReview({ name: file.name, table: { ...table, faults: [...torn, ...table.faults] } });
  };
  const take = async (
    parts: readonly Part[],
    versions: Shelf['partVersions'],
    undo: readonly Part[],
  ): Promise<void> => {
    setFault(null);
    try {
      await bring({ parts, versions }).unwrap();
      setReview(null);
      const after = Object.fromEntries(parts.map((p) => [p.id, (versions[p.id] ?? -1) + 1]));
      notifications.show({
        autoClose: 12000,
        message: (
          <>
            {parts.length} parts taken over.{' '}
            {undo.length > 0 && (
              <Button size="compact-xs" variant="default" onClick={() => void take(undo, after, [])}>
                Undo
              </Button>
            )}
          </>
        ),
      });
    } catch (e) {
      setFault(errorWords(e));
    }
  };
  const over = (): void => {
    if (!review) return;
    const parts = [...review.table.added, ...review.table.changed.map((c) => c.part)];
    const versions = Object.fromEntries(
      review.table.changed.map((c) => [c.part.id, shelf.partVersions[c.part.id] ?? 0]),
    );
    // undone, what was changed is as it was, and what was added is retired: a system may have it by then
    const undo = parts.map((p) => findPart(shelf.parts, p.id) ?? { ...p, retired: true });
    void take(parts, versions, undo);
  };
  const t = review?.table;
  return (
    <>
      <FileButton accept="text/csv,.csv" resetRef={reset} onChange={(f) => void read(f)}>
        {(props) => (
          <Button {...props} variant="default" leftSection={<IconUpload size={16} />}>
            Bring a CSV in
          </Button>
        )}
      </FileButton>
      {fault !== null && !review && (
        <p role="alert" className="caution">
          {fault}
        </p>
      )}
      {review && t && (
        <Modal
          opened
          onClose={() => {
            setReview(null);
          }}
          title={`What ${review.name} would do`}
          size="xl"
        >
          {t.faults.length > 0 && (
            <>
              <p className="caution">
                Nothing is taken over: {t.faults.length} {t.faults.length === 1 ? 'thing is' : 'things are'} wrong. Put
                the file right and bring it in again.
              </p>
              <table className="quiet-table">
                <thead>
                  <tr>
                    <th>row</th>
                    <th>column</th>
                    <th>what is wrong</th>
                  </tr>
                </thead>
                <tbody>
                  {t.faults.slice(0, 60).map((f) => (
                    <tr key={`${String(f.row)} ${f.column} ${f.message}`}>
                      <td>{f.row}</td>
                      <td>{f.column}</td>
                      <td>{f.message}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </>
          )}
          {t.faults.length === 0 && (
            <p>
              {t.added.length} new, {t.changed.length} changed, {t.same} as they are. Parts the file leaves out stay.
            </p>
          )}
          {t.doubts.map((d) => (
            <p key={`${d.id} ${d.text}`} className="note">
              <b>{d.id}</b>: {d.text}
            </p>
          ))}
          {t.added.length > 0 && <p className="small">New: {t.added.map((p) => p.name).join(', ')}.</p>}
          {t.changed.length > 0 && (
            <table className="quiet-table">
              <thead>
                <tr>
                  <th>part</th>
                  <th>figure</th>
                  <th>now</th>
                  <th>then</th>
                </tr>
              </thead>
              <tbody>
                {t.changed.slice(0, 80).flatMap((c) =>
                  c.columns.map((x) => (
                    <tr key={`${c.part.id} ${x.column}`}>
                      <td>{c.part.name}</td>
                      <td>{x.column}</td>
                      <td>{x.from === '' ? 'none' : x.from}</td>
                      <td>
                        <b>{x.to === '' ? 'none' : x.to}</b>
                      </td>
                    </tr>
                  )),
                )}
              </tbody>
            </table>
          )}
          {fault !== null && (
            <Alert color="red" role="alert" mt="sm">
              {fault}
            </Alert>
          )}
          <Group justify="flex-end" mt="md">
            <Button
              loading={isLoading}
              disabled={t.faults.length > 0 || t.added.length + t.changed.length === 0}
              onClick={over}
            >
              Take them over
            </Button>
          </Group>
        </Modal>
      )}
    </>
  );
}
