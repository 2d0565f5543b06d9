import { partsOf, type Component, type Part, type System } from '@katharos/core';
import { Button, NativeSelect, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useState, type ReactElement } from 'react';
import { Consequences } from './Consequences.tsx';
import { useJob } from './useJob.ts';

/** A system with another part in one place. */
const withPart = (system: System, id: string, part: Part): System => ({
  ...system,
  components: system.components.map((c) => (c.id === id ? { ...c, part } : c)),
});

/** What really went in: another part of its kind than planned, its serial or batch. It becomes the system as built. */
export function Fitted({ component: c }: { component: Component }): ReactElement | null {
  const { approved, built, parts, record, add } = useJob();
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
      {built && chosen && chosen.id !== part.id && <Consequences changed={withPart(built.system, c.id, chosen)} />}
    </form>
  );
}
