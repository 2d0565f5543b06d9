import { partsOf, type Component } from '@katharos/core';
import { Button, NativeSelect, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useState, type ReactElement } from 'react';
import { useJob } from './useJob.ts';

/** What really went in: another part of its kind than planned, its serial or batch. It becomes the system as built. */
export function Fitted({ component: c }: { component: Component }): ReactElement | null {
  const { approved, parts, record, add } = useJob();
  const there = record.fitted[c.id];
  const [partId, setPartId] = useState(c.part?.id ?? '');
  const [serial, setSerial] = useState(there?.serial ?? '');
  if (!approved || !c.part) return null;
  const { part } = c;
  const others = partsOf(parts, part.kind).filter((p) => p.id !== part.id);
  // what stands there now is chosen as it was resolved, whatever the shelf says of it since
  const chosen = partId === part.id ? part : others.find((p) => p.id === partId);
  const same = chosen?.id === part.id && serial.trim() === (there?.serial ?? '');
  return (
    <form
      className="fitted"
      onSubmit={(e) => {
        e.preventDefault();
        if (!chosen || same) return;
        add({ kind: 'fitted', design: approved.id, component: c.id, part: chosen, serial: serial.trim() });
        notifications.show({ message: `${chosen.name} is in as built.` });
      }}
    >
      <NativeSelect
        label="What really went in"
        size="xs"
        value={partId}
        data={[part, ...others].map((p) => ({ value: p.id, label: p.name }))}
        onChange={(e) => {
          setPartId(e.currentTarget.value);
        }}
      />
      <TextInput
        label="Serial or batch"
        size="xs"
        value={serial}
        maxLength={80}
        onChange={(e) => {
          setSerial(e.currentTarget.value);
        }}
      />
      <Button type="submit" size="xs" variant="default" disabled={!chosen || same}>
        Write it down
      </Button>
    </form>
  );
}
