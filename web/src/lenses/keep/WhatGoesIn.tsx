import { partsOf, swapSaid, type Component, type Part, type RunStep } from '@katharos/core';
import { Button, NativeSelect, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useEffect, useMemo, useState, type ReactElement } from 'react';
import { Photographs } from '../../job/Photographs.tsx';
import { useJob } from '../../job/useJob.ts';
import { CameOut } from './CameOut.tsx';

/** Parts that may be in the hand: those of this visit first, then others of the kind. */
function inTheHand(into: Component, visit: readonly Component[], shelf: readonly Part[]): Part[] {
  const of = [...(into.part ? [into.part] : []), ...visit.flatMap((c) => c.part ?? [])];
  const others = into.part ? partsOf(shelf, into.part.kind) : [];
  return [...of, ...others].filter((p, i, all) => all.findIndex((x) => x.id === p.id) === i);
}

/** Which one really goes in: chosen from what this visit carries, its batch written down, a mixed-up one told before it is in. */
export function WhatGoesIn({
  step,
  visit,
  since,
  onHeld,
}: {
  readonly step: RunStep;
  readonly visit: readonly string[];
  /** the change in hand was begun, ISO 8601 */
  readonly since: string;
  /** told why the step cannot be ticked: what is in the hand does not go there, or is not written down */
  readonly onHeld: (why: string | undefined) => void;
}): ReactElement | null {
  const { approved, built, view, parts, record, rules, add } = useJob();
  const into = built?.system.components.find((c) => c.id === step.puts);
  const there = into && record.fitted[into.id];
  const [partId, setPartId] = useState('');
  const [serial, setSerial] = useState('');
  const choices = useMemo(
    () => (into && built ? inTheHand(into, built.system.components.filter((c) => visit.includes(c.id)), parts) : []),
    [into, built, visit, parts],
  );
  const chosen = choices.find((p) => p.id === partId);
  const said = useMemo(() => (chosen && into && view ? swapSaid(view, into, chosen, rules) : []), [chosen, into, view, rules]);
  const slot = into?.slot ?? '';
  const held = !chosen
    ? undefined
    : said.some((s) => s.barred)
      ? `${chosen.name} does not go in as ${slot}: take the right one in your hand.`
      : `Write down ${chosen.name} first, or set the label back to unread.`;
  useEffect(() => {
    onHeld(held);
    return () => {
      onHeld(undefined);
    };
  }, [held, onHeld]);
  if (!approved || !into) return null;
  const write = (): void => {
    if (!chosen) return;
    add({ kind: 'fitted', design: approved.id, component: into.id, part: chosen, serial: serial.trim() });
    setPartId('');
    setSerial('');
    notifications.show({ message: `${chosen.name} is written down.` });
  };
  return (
    <section className="goes-in" aria-label="What goes in">
      <CameOut into={into} since={since} />
      <NativeSelect
        label="Which one is in your hand?"
        description="Read it off its label."
        size="md"
        value={partId}
        data={[{ value: '', label: 'read the label' }, ...choices.map((p) => ({ value: p.id, label: p.name }))]}
        onChange={(e) => {
          setPartId(e.currentTarget.value);
        }}
      />
      {said.map((s) => (
        <p key={s.text} className={s.barred ? 'caution' : 'note'} role={s.barred ? 'alert' : undefined}>
          {s.text}
        </p>
      ))}
      {chosen && !said.some((s) => s.barred) && (
        <>
          <TextInput
            label="Serial or batch"
            size="md"
            value={serial}
            maxLength={80}
            onChange={(e) => {
              setSerial(e.currentTarget.value);
            }}
          />
          <Button size="md" variant="default" mt={6} onClick={write}>
            Write it down
          </Button>
        </>
      )}
      {there && (
        <p className="small">
          On record: {there.part.name}
          {there.serial === '' ? '' : `, ${there.serial}`}.
        </p>
      )}
      <Photographs about={into.id} what={`what went in as ${into.slot}`} />
    </section>
  );
} // oxfmt-ignore
