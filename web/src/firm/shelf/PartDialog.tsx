import { StoredPartSchema, type Shelf } from '@katharos/contract';
import { partDoubts, partFromRow, partRow, type Part, type PartRow } from '@katharos/core';
import { Alert, Button, Checkbox, Group, Modal, NativeSelect, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import equal from 'fast-deep-equal';
import { useState, type ReactElement } from 'react';
import * as z from 'zod';
import { usePutPartMutation } from '../../data/api.ts';
import { errorWords, problemOf } from '../../data/errors.ts';
import { differences, mergeEdits } from '../../ui/mergeEdits.ts';
import { unsavedChanges, useKept } from '../../ui/unsavedChanges.ts';
import { LeftUnsaved } from '../../ui/LeftUnsaved.tsx';
import { Theirs } from '../../ui/Theirs.tsx';
import { KIND_WORDS } from './partWords.ts';

/** A figure's path in words: "rating.test.pressureBar" as "rating, test, pressure, bar". */
function pathWords(path: string): string {
  return path
    .replace(/MJcm2/g, ' mJ/cm²')
    .replace(/MgL/g, ' mg/L')
    .replace(/LDay/g, ' L/day')
    .replace(/PerLMin/g, ' at 1 L/min')
    .replace(/LMin/g, ' L/min')
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .replace(/\./g, ', ')
    .toLowerCase()
    .replace('mj/cm²', 'mJ/cm²')
    .replace('mg/l', 'mg/L')
    .replace('l/day', 'L/day')
    .replace('l/min', 'L/min');
}

/** Adds a part after the pattern of another of its kind, or changes one, figure by figure. */
export function PartDialog({
  shelf,
  part,
  onClose,
}: {
  shelf: Shelf;
  part: Part | null;
  onClose: () => void;
}): ReactElement {
  const [put, { isLoading }] = usePutPartMutation();
  const kinds = [...new Set(shelf.parts.map((p) => p.kind))];
  const patternOf = (kind: string): PartRow => {
    const like = shelf.parts.find((p) => p.kind === kind);
    return like ? { ...partRow(like), id: '', name: '', retired: '', ordinary: '' } : { kind };
  };
  const kept = unsavedChanges<PartRow>(`part.${part?.id ?? 'new'}`, z.record(z.string(), z.string()));
  const base = part ? partRow(part) : patternOf('element');
  const { values: row, change: setRow, startOver } = useKept(kept, base);
  const [problem, setProblem] = useState<string | null>(null);
  const [theirs, setTheirs] = useState<{ part: Part; version: number } | null>(null);
  const result = partFromRow(row);
  const faults = 'faults' in result ? result.faults : [];
  const doubts = 'part' in result ? partDoubts(result.part) : [];
  const taken = !part && 'part' in result && shelf.parts.some((p) => p.id === result.part.id);
  const save = async (version: number | null, of: PartRow = row): Promise<void> => {
    const read = partFromRow(of);
    if (!('part' in read)) return;
    setProblem(null);
    try {
      await put({ part: read.part, version }).unwrap();
      kept.forget();
      notifications.show({ message: `${read.part.name} ${part ? 'saved' : 'added'}.` });
      onClose();
    } catch (e) {
      const current = StoredPartSchema.safeParse(problemOf(e)?.current).data;
      if (current) setTheirs(current);
      else setProblem(errorWords(e));
    }
  };
  const faultAt = (column: string): string | undefined =>
    column === 'id' && taken ? 'is on the shelf already' : faults.find((f) => f.column === column)?.message;
  const loose = faults.filter((f) => !(f.column in row));
  return (
    <Modal opened onClose={onClose} title={part ? part.name : 'Add a part'} size="lg">
      <LeftUnsaved changed={!equal(row, base)} onStartOver={startOver} />
      {!part && (
        <NativeSelect
          label="Kind"
          mb="sm"
          value={row.kind ?? ''}
          data={kinds.map((k) => ({ value: k, label: KIND_WORDS[k] }))}
          onChange={(e) => {
            setRow(patternOf(e.currentTarget.value));
          }}
        />
      )}
      <div className="part-fields">
        {Object.keys(row)
          .filter((c) => c !== 'kind' && c !== 'ports' && c !== 'ordinary' && (part === null || c !== 'id'))
          .map((column) => (
            <TextInput
              key={column}
              size="xs"
              label={pathWords(column)}
              value={row[column] ?? ''}
              error={faultAt(column)}
              onChange={(e) => {
                setRow({ ...row, [column]: e.currentTarget.value });
              }}
            />
          ))}
      </div>
      <Checkbox
        mt="sm"
        size="xs"
        label="The firm’s ordinary one"
        description="Put in where nothing speaks for another of its kind."
        checked={row.ordinary === 'true'}
        onChange={(e) => {
          setRow({ ...row, ordinary: e.currentTarget.checked ? 'true' : '' });
        }}
      />
      {loose.map((f) => (
        <p key={f.column} className="caution">
          {f.column}: {f.message}
        </p>
      ))}
      {doubts.map((d) => (
        <p key={d} className="note">
          {d}
        </p>
      ))}
      {problem !== null && (
        <Alert color="red" role="alert" mt="sm">
          {problem}
        </Alert>
      )}
      {theirs && (
        <Theirs
          what="this part"
          differences={differences(
            part ? base : {},
            row,
            partRow(theirs.part),
            (c) => pathWords(c),
            (c, of) => of[c] ?? '',
          )}
          onKeepMine={() => {
            const merged = mergeEdits(part ? base : {}, row, partRow(theirs.part));
            setRow(merged);
            setTheirs(null);
            void save(theirs.version, merged);
          }}
          onTakeTheirs={() => {
            kept.forget();
            onClose();
          }}
        />
      )}
      <Group justify="flex-end" mt="md">
        <Button
          loading={isLoading}
          disabled={faults.length > 0 || taken}
          onClick={() => void save(part ? (shelf.partVersions[part.id] ?? 0) : null)}
        >
          {part ? 'Save the part' : 'Add it to the shelf'}
        </Button>
      </Group>
    </Modal>
  );
}
