import {
  baseUnit,
  formatQuantity,
  parseQuantity,
  quantityMessage,
  type AskedField,
  type Instrument,
  type ParsedQuantity,
} from '@katharos/core';
import { TextInput } from '@mantine/core';
import type { ReactElement, ReactNode } from 'react';
import { Receive } from '../../job/wire/Receive.tsx';

/** One reading of a proof: any unit, its conversion shown, its fault told at the field. */
export function ProofField({
  field: f,
  text,
  slip,
  perUSCm,
  meters,
  near,
  onText,
  onTake,
}: {
  field: AskedField;
  text: string;
  /** what looks like a slip of the hand */
  slip?: string | undefined;
  /** mg/L for each µS/cm, where a conductivity may be written */
  perUSCm?: number | undefined;
  /** meters that answer over the wire and read this */
  meters: readonly Instrument[];
  /** what is expected there, base unit */
  near: number | null;
  onText: (t: string) => void;
  /** what a meter read was taken: its figure and the meter's name */
  onTake: (typed: string, meter: string) => void;
}): ReactElement {
  const parsed = text.trim() === '' ? null : parseQuantity(text, f.kind, f.unit, f, perUSCm);
  const base = baseUnit(f.kind);
  const input = (
    <TextInput
      label={f.needed ? f.label : `${f.label}, if read`}
      size="sm"
      autoComplete="off"
      value={text}
      data-reading={f.key}
      maxLength={60}
      placeholder={f.unit}
      error={parsed && !parsed.ok ? quantityMessage(parsed.problem) : undefined}
      description={said(parsed, f, base, slip)}
      inputWrapperOrder={['label', 'input', 'description', 'error']}
      rightSection={/^[\d.,\s]+$/.test(text) ? <span className="unit-tail">{f.unit}</span> : undefined}
      rightSectionWidth={58}
      onChange={(e) => {
        onText(e.currentTarget.value);
      }}
    />
  );
  if (meters.length === 0) return input;
  return (
    <div>
      {input}
      {meters.map((m) => (
        <Receive
          key={m.id}
          of={f}
          meter={m}
          near={near}
          onTake={(_, typed) => {
            onTake(typed, m.name);
          }}
        />
      ))}
    </div>
  );
}

/** What stands under a field: a slip that is asked about, what was typed in another unit comes to, how it is read. */
function said(parsed: ParsedQuantity | null, f: AskedField, base: string, slip: string | undefined): ReactNode {
  if (!parsed?.ok) return f.how;
  const converted = parsed.unit !== base || parsed.timed === true || parsed.perUSCm !== undefined;
  const factor = parsed.perUSCm === undefined ? '' : ` by the pen’s factor, ${String(parsed.perUSCm)}`;
  return (
    <>
      {converted ? `= ${formatQuantity(parsed.value, f.kind, base)}${factor}` : f.how}
      {slip !== undefined && <span className="slip">{slip}</span>}
    </>
  );
}
