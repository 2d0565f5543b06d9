import { parseQuantity, quantityMessage, type FieldKey, type QuantityField, type ReadingFact } from '@katharos/core';
import { Button, Group, Popover, Radio, TextInput } from '@mantine/core';
import { useState, type ReactElement } from 'react';
import type { JobContext } from '../../job/useJob.ts';
import { useDraft } from '../../ui/useDraft.ts';
import { shortDate } from './fieldWords.ts';

/** Every reading of one kind, over time and place: another is added, or one of them chosen with its reason. */
export function ReadingHistory({
  jobId,
  field,
  quantity: q,
  inUse,
  taken,
  reason: chosen,
  instrument,
  add,
  personName,
  several,
}: {
  /** more than one is kept: the way to them stays in sight */
  several: boolean;
  jobId: string;
  field: FieldKey;
  quantity: QuantityField;
  inUse: ReadingFact;
  taken: readonly ReadingFact[];
  reason: string | undefined;
  instrument: string;
} & Pick<JobContext, 'add' | 'personName'>): ReactElement {
  const [open, setOpen] = useState(false);
  const [text, setText] = useDraft(`${jobId}.${field}.another`);
  const [place, setPlace] = useDraft(`${jobId}.${field}.another.place`);
  const [pick, setPick] = useState(inUse.id);
  const [reason, setReason] = useDraft(`${jobId}.${field}.why`);
  const parsed = text.trim() === '' ? null : parseQuantity(text, q.kind, q.unit, { min: q.min, max: q.max });
  return (
    <Popover opened={open} onChange={setOpen} position="bottom-start" withArrow shadow="md" trapFocus>
      <Popover.Target>
        <Button
          size="compact-xs"
          variant="subtle"
          className={several || open ? undefined : 'reading-quiet'}
          title={`Readings of ${q.label}`}
          onClick={() => {
            setPick(inUse.id);
            setOpen(!open);
          }}
        >
          {several ? 'readings' : 'another reading'}
        </Button>
      </Popover.Target>
      <Popover.Dropdown className="reading-history">
        <Radio.Group label={`${q.label}: the one in use`} value={pick} onChange={setPick}>
          {taken.map((f) => (
            <Radio
              key={f.id}
              mt={6}
              value={f.id}
              label={f.typed}
              description={[f.place, f.instrument, personName(f.by), shortDate(f.at)].filter(Boolean).join(', ')}
            />
          ))}
        </Radio.Group>
        {chosen !== undefined && chosen !== '' && <p className="small">In use because: {chosen}</p>}
        {pick !== inUse.id && (
          <Group mt="xs" align="flex-end" gap="xs">
            <TextInput
              size="xs"
              label="Why this one"
              maxLength={300}
              value={reason}
              onChange={(e) => {
                setReason(e.currentTarget.value);
              }}
            />
            <Button
              size="xs"
              disabled={reason.trim() === ''}
              onClick={() => {
                add({ kind: 'use', field, reading: pick, reason: reason.trim() });
                setReason('');
                setOpen(false);
              }}
            >
              Use it
            </Button>
          </Group>
        )}
        <form
          className="reading-more"
          onSubmit={(e) => {
            e.preventDefault();
            if (!parsed?.ok) return;
            add({
              kind: 'reading',
              field,
              value: parsed.value,
              typed: text.trim(),
              ...(instrument === '' ? {} : { instrument }),
              ...(place.trim() === '' ? {} : { place: place.trim() }),
            });
            setText('');
            setPlace('');
            setOpen(false);
          }}
        >
          <TextInput
            size="xs"
            label="Another reading"
            placeholder={q.unit}
            value={text}
            error={parsed && !parsed.ok ? quantityMessage(parsed.problem) : undefined}
            onChange={(e) => {
              setText(e.currentTarget.value);
            }}
          />
          <TextInput
            size="xs"
            label="Where, when"
            placeholder="well tank, at night"
            maxLength={60}
            value={place}
            onChange={(e) => {
              setPlace(e.currentTarget.value);
            }}
          />
          <Button type="submit" size="xs" variant="default" disabled={!parsed?.ok}>
            Add it
          </Button>
        </form>
      </Popover.Dropdown>
    </Popover>
  );
}
