import {
  baseUnit,
  formatNumber,
  formatQuantity,
  instrumentError,
  parseQuantity,
  quantityMessage,
  type Instrument,
  type InstrumentCheck,
  type QuantityKind,
} from '@katharos/core';
import { Button, Modal, NativeSelect, Stack, TextInput } from '@mantine/core';
import { useState, type ReactElement } from 'react';
import { useAppSelector } from '../../data/store.ts';
import { useDraft } from '../../ui/useDraft.ts';
import { KIND_NAMES } from './instrumentWords.ts';
import { nowMs } from '../../ui/clock.ts';

/** Writes down a check against something known, and says at once whether the instrument holds. */
export function CheckDialog({
  instrument: i,
  onSave,
  onClose,
}: {
  instrument: Instrument;
  onSave: (check: InstrumentCheck) => Promise<boolean>;
  onClose: () => void;
}): ReactElement {
  const by = useAppSelector((s) => s.session.personId);
  const [kind, setKind] = useState<QuantityKind>(i.reads[0]?.kind ?? 'concentration');
  const [reference, setReference] = useDraft(`check.${i.id}.${kind}.known`);
  const [read, setRead] = useDraft(`check.${i.id}.${kind}.read`);
  const [busy, setBusy] = useState(false);
  const reads = i.reads.find((r) => r.kind === kind);
  const unit = reads?.unit ?? baseUnit(kind);
  const known = reference.trim() === '' ? null : parseQuantity(reference, kind, unit);
  const found = read.trim() === '' ? null : parseQuantity(read, kind, unit);
  const allowed = known?.ok ? instrumentError(i, kind, known.value) : null;
  const off = known?.ok && found?.ok ? found.value - known.value : null;
  const holds = off !== null && allowed !== null && Math.abs(off) <= allowed;
  return (
    <Modal opened onClose={onClose} title={`Check ${i.name}`}>
      <Stack gap="sm">
        {i.reads.length > 1 && (
          <NativeSelect
            label="What is checked"
            value={kind}
            data={i.reads.map((r) => ({ value: r.kind, label: KIND_NAMES[r.kind] }))}
            onChange={(e) => {
              setKind(e.currentTarget.value as QuantityKind);
            }}
          />
        )}
        <TextInput
          label={`Known, ${unit}`}
          description="a reference solution fresh from its bottle, a second gauge, a weighed jug"
          data-autofocus
          value={reference}
          error={known && !known.ok ? quantityMessage(known.problem) : undefined}
          onChange={(e) => {
            setReference(e.currentTarget.value);
          }}
        />
        <TextInput
          label={`Read, ${unit}`}
          value={read}
          error={found && !found.ok ? quantityMessage(found.problem) : undefined}
          onChange={(e) => {
            setRead(e.currentTarget.value);
          }}
        />
        {off !== null && allowed !== null && (
          <p className={holds ? 'small' : 'caution'} role="status">
            Off by {formatNumber(Math.abs(off), 2)} {baseUnit(kind)}; it may be off by{' '}
            {formatQuantity(allowed, kind, baseUnit(kind))}.{' '}
            {holds ? 'It holds.' : 'It does not hold: calibrate it, or retire it.'}
          </p>
        )}
        <Button
          loading={busy}
          disabled={off === null || by === null}
          onClick={() => {
            if (!known?.ok || !found?.ok || by === null) return;
            setBusy(true);
            const check = { at: new Date(nowMs()).toISOString(), by, kind, reference: known.value, read: found.value };
            void onSave(check).then((ok) => {
              setBusy(false);
              if (!ok) return;
              setReference('');
              setRead('');
              onClose();
            });
          }}
        >
          Write it down
        </Button>
      </Stack>
    </Modal>
  );
}
