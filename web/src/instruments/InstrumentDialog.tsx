import { baseUnit, InstrumentSchema, UNITS, type Instrument, type QuantityKind } from '@katharos/core';
import { Button, Group, Modal, NativeSelect, NumberInput, Stack, TextInput } from '@mantine/core';
import { useState, type ReactElement } from 'react';
import { KIND_NAMES, WHAT_NAMES } from './instrumentWords.ts';

type Reads = Instrument['reads'][number];
const KINDS = Object.keys(KIND_NAMES) as QuantityKind[];
const fresh = (kind: QuantityKind): Reads => ({
  kind,
  unit: baseUnit(kind),
  min: 0,
  max: 1000,
  errorFixed: 0,
  errorShare: 0.02,
});

/** Adds a meter or changes one. Figures stand in the base unit of their kind. */
export function InstrumentDialog({
  instrument,
  taken,
  onSave,
  onClose,
}: {
  instrument: Instrument | null;
  /** names there are already, lower case */
  taken: readonly string[];
  onSave: (i: Instrument) => Promise<boolean>;
  onClose: () => void;
}): ReactElement {
  const [draft, setDraft] = useState<Instrument>(
    () =>
      instrument ?? {
        id: crypto.randomUUID(),
        name: '',
        what: 'pen',
        reads: [fresh('concentration')],
        checkEveryDays: 90,
        checks: [],
        address: null,
      },
  );
  const [busy, setBusy] = useState(false);
  const parsed = InstrumentSchema.safeParse(draft);
  const faultAt = (path: string): string | undefined =>
    parsed.error?.issues.find((i) => i.path.join('.') === path)?.message;
  const double = draft.name.trim().toLowerCase() !== instrument?.name.toLowerCase() && taken.includes(draft.name.trim().toLowerCase()); // prettier-ignore
  const setReads = (n: number, change: Partial<Reads>): void => {
    setDraft({ ...draft, reads: draft.reads.map((r, i) => (i === n ? { ...r, ...change } : r)) });
  };
  const number = (v: string | number): number => (v === '' ? Number.NaN : Number(v));
  return (
    <Modal opened onClose={onClose} title={instrument ? instrument.name : 'Add an instrument'} size="lg">
      <Stack gap="sm">
        <Group grow align="flex-start">
          <TextInput
            label="Name, as it stands on it"
            data-autofocus
            value={draft.name}
            error={double ? 'another has that name' : draft.name === '' ? undefined : faultAt('name')}
            onChange={(e) => {
              setDraft({ ...draft, name: e.currentTarget.value });
            }}
          />
          <NativeSelect
            label="What it is"
            value={draft.what}
            data={Object.entries(WHAT_NAMES).map(([value, label]) => ({ value, label }))}
            onChange={(e) => {
              setDraft({ ...draft, what: e.currentTarget.value as Instrument['what'] });
            }}
          />
          <NumberInput
            label="Check again after, days"
            description="empty for never"
            inputWrapperOrder={['label', 'input', 'description', 'error']}
            value={draft.checkEveryDays ?? ''}
            min={1}
            max={1500}
            allowDecimal={false}
            onChange={(v) => {
              setDraft({ ...draft, checkEveryDays: v === '' ? null : Number(v) });
            }}
          />
        </Group>
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
                setReads(n, fresh(e.currentTarget.value as QuantityKind));
              }}
            />
            <NativeSelect
              label="Shows"
              size="xs"
              value={r.unit}
              data={UNITS[r.kind].map((u) => u.symbol)}
              onChange={(e) => {
                setReads(n, { unit: e.currentTarget.value });
              }}
            />
            {(
              [
                ['min', `From, ${baseUnit(r.kind)}`],
                ['max', `To, ${baseUnit(r.kind)}`],
                ['errorFixed', `Error, ${baseUnit(r.kind)}`],
              ] as const
            ).map(([key, label]) => (
              <NumberInput
                key={key}
                label={label}
                size="xs"
                value={r[key]}
                error={faultAt(`reads.${String(n)}.${key}`)}
                onChange={(v) => {
                  setReads(n, { [key]: number(v) });
                }}
              />
            ))}
            <NumberInput
              label="Error, % of the reading"
              size="xs"
              value={Number((100 * r.errorShare).toPrecision(6))}
              error={faultAt(`reads.${String(n)}.errorShare`)}
              onChange={(v) => {
                setReads(n, { errorShare: number(v) / 100 });
              }}
            />
            {draft.reads.length > 1 && (
              <Button
                size="compact-xs"
                variant="default"
                onClick={() => {
                  setDraft({ ...draft, reads: draft.reads.filter((_, i) => i !== n) });
                }}
              >
                Leave out
              </Button>
            )}
          </fieldset>
        ))}
        {draft.reads.some((r) => r.kind === 'concentration' || r.kind === 'conductivity') && (
          <NumberInput
            label="Factor from µS/cm to mg/L"
            description="0.5 for a salt scale, up to 0.7; empty where nobody knows: then the water’s own make-up is taken"
            inputWrapperOrder={['label', 'input', 'description', 'error']}
            size="xs"
            step={0.01}
            value={draft.tdsFactor ?? ''}
            error={faultAt('tdsFactor') === undefined ? undefined : '0.3 to 1.1'}
            onChange={(v) => {
              const next = { ...draft, tdsFactor: Number(v) };
              if (v === '') Reflect.deleteProperty(next, 'tdsFactor');
              setDraft(next);
            }}
          />
        )}
        <Group justify="space-between">
          <Button
            variant="default"
            size="xs"
            disabled={draft.reads.length >= 8}
            onClick={() => {
              const next = KINDS.find((k) => !draft.reads.some((r) => r.kind === k));
              if (next) setDraft({ ...draft, reads: [...draft.reads, fresh(next)] });
            }}
          >
            It reads something else too
          </Button>
          <TextInput
            aria-label="Address it answers at"
            placeholder="answers at http://127.0.0.1:…, or leave empty"
            size="xs"
            w={320}
            value={draft.address ?? ''}
            onChange={(e) => {
              setDraft({
                ...draft,
                address: e.currentTarget.value.trim() === '' ? null : e.currentTarget.value.trim(),
              });
            }}
          />
        </Group>
        <Group justify="flex-end">
          <Button
            loading={busy}
            disabled={!parsed.success || double}
            onClick={() => {
              setBusy(true);
              void onSave(draft).then((ok) => {
                setBusy(false);
                if (ok) onClose();
              });
            }}
          >
            {instrument ? 'Save' : 'Add it'}
          </Button>
        </Group>
      </Stack>
    </Modal>
  );
}
