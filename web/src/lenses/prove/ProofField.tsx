import { baseUnit, formatQuantity, parseQuantity, quantityMessage, type AskedField } from '@katharos/core';
import { TextInput } from '@mantine/core';
import type { ReactElement } from 'react';

/** One reading of a proof: any unit, its conversion shown, its fault told at the field. */
export function ProofField({
  field: f,
  text,
  onText,
}: {
  field: AskedField;
  text: string;
  onText: (t: string) => void;
}): ReactElement {
  const parsed = text.trim() === '' ? null : parseQuantity(text, f.kind, f.unit, f);
  const base = baseUnit(f.kind);
  return (
    <TextInput
      label={f.needed ? f.label : `${f.label}, if read`}
      size="sm"
      autoComplete="off"
      value={text}
      maxLength={60}
      placeholder={f.unit}
      error={parsed && !parsed.ok ? quantityMessage(parsed.problem) : undefined}
      description={
        parsed?.ok ? (parsed.unit === base ? f.how : `= ${formatQuantity(parsed.value, f.kind, base)}`) : f.how
      }
      inputWrapperOrder={['label', 'input', 'description', 'error']}
      rightSection={/^[\d.,\s]+$/.test(text) ? <span className="unit-tail">{f.unit}</span> : undefined}
      rightSectionWidth={58}
      onChange={(e) => {
        onText(e.currentTarget.value);
      }}
    />
  );
}
