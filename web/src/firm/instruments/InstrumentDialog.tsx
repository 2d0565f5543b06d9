import { InstrumentSchema, UNITS, type Instrument, type QuantityKind } from '@katharos/core';
import { StoredInstrumentSchema, type StoredInstrument } from '@katharos/contract';
import { Alert, Button, Group, Modal, NativeSelect, SimpleGrid, Stack, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import equal from 'fast-deep-equal';
import { useState, type ReactElement } from 'react';
import { usePutInstrumentMutation } from '../../data/api.ts';
import { errorWords, problemOf } from '../../data/errors.ts';
import { differences, mergeEdits } from '../../ui/mergeEdits.ts';
import { unsavedChanges, useKept } from '../../ui/unsavedChanges.ts';
import { LeftUnsaved } from '../../ui/LeftUnsaved.tsx';
import { Theirs } from '../../ui/Theirs.tsx';
import {
  asWhat,
  draftOf,
  freshReads,
  inUnit,
  KeptDraftSchema,
  readDraft,
  type InstrumentDraft,
  type ReadsDraft,
} from './instrumentDraft.ts';
import { KIND_NAMES, WHAT_NAMES } from './instrumentWords.ts';

const KINDS = Object.keys(KIND_NAMES) as QuantityKind[];

/** Adds a meter or changes one. Figures are typed in the unit it shows, or with any other of the kind. */
export function InstrumentDialog({
  instrument,
  taken,
  onClose,
}: {
  instrument: StoredInstrument | null;
  /** names there are already, lower case */
  taken: readonly string[];
  onClose: () => void;
}): ReactElement {
  const [put, { isLoading }] = usePutInstrumentMutation();
  const [id] = useState(() => crypto.randomUUID());
  const [standing, setStanding] = useState(instrument);
  const [theirs, setTheirs] = useState<StoredInstrument | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const kept = unsavedChanges<InstrumentDraft>(`instrument.${instrument?.id ?? 'new'}`, KeptDraftSchema);
  const base = draftOf(standing);
  const { values: draft, change, startOver } = useKept(kept, base);
  const read = readDraft(draft, standing, id);
  const faults = 'faults' in read ? read.faults : {};
  const name = draft.name.trim().toLowerCase();
  const double = name !== standing?.name.toLowerCase() && taken.includes(name);
  const set = (change_: Partial<InstrumentDraft>): void => {
    change({ ...draft, ...change_ });
  };
  const setReads = (n: number, next: ReadsDraft): void => {
    set({ reads: draft.reads.map((r, i) => (i === n ? next : r)) });
  };
  const save = async (of: InstrumentDraft, on: StoredInstrument | null): Promise<void> => {
    const next = readDraft(of, on, id);
    if (!('instrument' in next)) return;
    setProblem(null);
    try {
      // the version is the server's own
      const body = InstrumentSchema.parse(next.instrument);
      await put({ instrument: body, version: on?.version ?? null }).unwrap();
      kept.forget();
      notifications.show({ message: `${body.name} saved.` });
      onClose();
    } catch (e) {
      const current = StoredInstrumentSchema.safeParse(problemOf(e)?.current).data;
      if (current) setTheirs(current);
      else setProblem(errorWords(e));
    }
  };
  return (
    <Modal opened onClose={onClose} title={instrument ? instrument.name : 'Add an instrument'} size="lg">
      <Stack gap="sm">
        <LeftUnsaved changed={!equal(draft, base)} onStartOver={startOver} />
        <SimpleGrid cols={{ base: 1, xs: 3 }}>
          <TextInput
            label="Name, as it stands on it"
            data-autofocus
            value={draft.name}
            error={double ? 'another has that name' : draft.name === '' ? undefined : faults.name}
            onChange={(e) => {
              set({ name: e.currentTarget.value });
            }}
          />
          <NativeSelect
            label="What it is"
            value={draft.what}
            data={Object.entries(WHAT_NAMES).map(([value, label]) => ({ value, label }))}
            onChange={(e) => {
              change(asWhat(draft, e.currentTarget.value as Instrument['what']));
            }}
          />
          <TextInput
            label="Check again after, days"
            description="empty for never"
            inputMode="numeric"
            inputWrapperOrder={['label', 'input', 'description', 'error']}
            value={draft.checkEveryDays}
            error={faults.checkEveryDays}
            onChange={(e) => {
              set({ checkEveryDays: e.currentTarget.value });
            }}
          />
        </SimpleGrid>
        {draft.reads.map((r, n) => (
          <fieldset key={r.kind} className="instrument-fields">
            <legend>reads {KIND_NAMES[r.kind]}</legend>
            <NativeSelect
              label="Kind"
              size="xs"
              value={r.kind}
              data={KINDS.filter((k) => k === r.kind || !draft.reads.some((x) => x.kind === k)).map((k) => ({
                value: k,
                label: KIND_NAMES[k],
              }))}
              onChange={(e) => {
                setReads(n, freshReads(e.currentTarget.value as QuantityKind));
              }}
            />
            <NativeSelect
              label="Shows"
              size="xs"
              value={r.unit}
              error={faults[`reads.${String(n)}.unit`]}
              data={UNITS[r.kind].map((u) => u.symbol)}
              onChange={(e) => {
                setReads(n, inUnit(r, e.currentTarget.value));
              }}
            />
            {(
              [
                ['min', `From, ${r.unit}`],
                ['max', `To, ${r.unit}`],
                ['errorFixed', `Error, ${r.unit}`],
                ['errorShare', 'Error, % of the reading'],
              ] as const
            ).map(([key, label]) => (
              <TextInput
                key={key}
                label={label.replace(/, $/, '')}
                size="xs"
                maxLength={20}
                value={r[key]}
                error={faults[`reads.${String(n)}.${key}`]}
                onChange={(e) => {
                  setReads(n, { ...r, [key]: e.currentTarget.value });
                }}
              />
            ))}
            {draft.reads.length > 1 && (
              <Button
                size="compact-xs"
                variant="default"
                onClick={() => {
                  set({ reads: draft.reads.filter((_, i) => i !== n) });
                }}
              >
                Leave out
              </Button>
            )}
          </fieldset>
        ))}
        <div>
          <Button
            variant="default"
            size="xs"
            disabled={draft.reads.length >= 8}
            onClick={() => {
              const next = KINDS.find((k) => !draft.reads.some((r) => r.kind === k));
              if (next) set({ reads: [...draft.reads, freshReads(next)] });
            }}
          >
            It reads something else too
          </Button>
        </div>
        {draft.reads.some((r) => r.kind === 'concentration' || r.kind === 'conductivity') && (
          <TextInput
            label="Factor from µS/cm to mg/L"
            description="0.5 for a salt scale, up to 0.7; empty where nobody knows: then the water’s own make-up is taken"
            inputWrapperOrder={['label', 'input', 'description', 'error']}
            size="xs"
            value={draft.tdsFactor}
            error={faults.tdsFactor === undefined ? undefined : '0.3 to 1.1'}
            onChange={(e) => {
              set({ tdsFactor: e.currentTarget.value });
            }}
          />
        )}
        <TextInput
          label="Address it answers at"
          description="empty for one that is read by eye"
          placeholder="http://127.0.0.1:…"
          inputWrapperOrder={['label', 'input', 'description', 'error']}
          size="xs"
          w={320}
          value={draft.address}
          error={faults.address}
          onChange={(e) => {
            set({ address: e.currentTarget.value });
          }}
        />
        {problem !== null && (
          <Alert color="red" role="alert">
            {problem}
          </Alert>
        )}
        {theirs && (
          <Theirs
            what="this instrument"
            differences={differences(base, draft, draftOf(theirs), (k) => LABELS[k], draftWords)}
            onKeepMine={() => {
              const merged = mergeEdits(base, draft, draftOf(theirs));
              setStanding(theirs);
              setTheirs(null);
              change(merged);
              void save(merged, theirs);
            }}
            onTakeTheirs={() => {
              kept.forget();
              onClose();
            }}
          />
        )}
        <Group justify="flex-end">
          <Button
            loading={isLoading}
            disabled={!('instrument' in read) || double}
            onClick={() => void save(draft, standing)}
          >
            {instrument ? 'Save' : 'Add it'}
          </Button>
        </Group>
      </Stack>
    </Modal>
  );
}

const LABELS: Readonly<Record<keyof InstrumentDraft, string>> = {
  name: 'name',
  what: 'what it is',
  checkEveryDays: 'check again after, days',
  tdsFactor: 'factor',
  address: 'address',
  reads: 'reads',
};

function draftWords(key: keyof InstrumentDraft, of: InstrumentDraft): string {
  if (key === 'what') return WHAT_NAMES[of.what];
  if (key !== 'reads') return of[key];
  return of.reads
    .map((r) => `${KIND_NAMES[r.kind]} ${r.min} to ${r.max} ${r.unit} ± ${r.errorFixed} and ${r.errorShare} %`)
    .join('; ');
}
