import {
  baseUnit,
  formatNumber,
  formatQuantity,
  parseQuantity,
  quantityMessage,
  type ParsedQuantity,
  type QuantityKind,
} from '@katharos/core';
import { TextInput } from '@mantine/core';
import { useState, type KeyboardEvent, type ReactElement, type ReactNode } from 'react';
import { useDraft } from './useDraft.ts';

export interface QuantityFieldProps {
  /** of the input, so that it can be gone to */
  readonly id?: string;
  /** where the unsent text is kept */
  readonly draftKey: string;
  readonly label: ReactNode;
  readonly kind: QuantityKind;
  readonly unit: string;
  readonly min: number;
  readonly max: number;
  /** mg/L for each µS/cm: with it a concentration may be typed as a conductivity */
  readonly perUSCm?: number | undefined;
  /** where that factor comes from, in words */
  readonly perUSCmFrom?: string | undefined;
  /** as it was typed when it was taken in; '' for none */
  readonly current: string;
  readonly description?: string;
  /** what stands in the empty field; its unit if left out */
  readonly placeholder?: string | undefined;
  readonly required?: boolean;
  /** a good value in the base unit, as typed; null when the field was emptied */
  readonly onTake: (value: number | null, typed: string) => void;
  readonly onDraft?: (value: ParsedQuantity | null) => void;
}

/** A conductivity is kept with the factor it was turned by, so that its figure can be told again from the words alone. */
function typedInFull(typed: string, parsed: ParsedQuantity & { ok: true }): string {
  if (parsed.perUSCm === undefined) return typed;
  return `${String(Number(parsed.written.toPrecision(6)))} ${parsed.unit} at ${String(parsed.perUSCm)}`;
}

/** The factor a conductivity was turned by, and where it comes from: one that was written beside it is that. */
function factorWords(used: number | undefined, { perUSCm, perUSCmFrom }: QuantityFieldProps): string {
  if (used === undefined) return '';
  const from = used !== perUSCm ? 'as written beside it' : (perUSCmFrom ?? '');
  return ` at ${formatNumber(used, 2)} mg/L for each µS/cm${from === '' ? '' : `, ${from}`}`;
}

/**
 * A figure with any unit. It is read while typing, its conversion shown, its fault told at the field; taken in on Enter
 * or on leaving. Text that cannot be taken in stays, also over a reload.
 */
export function QuantityField(p: QuantityFieldProps): ReactElement {
  const [draft, setDraft] = useDraft(p.draftKey);
  const [touched, setTouched] = useState(false);
  const text = touched || draft !== '' ? draft : p.current;
  const range = { min: p.min, max: p.max };
  const parsed = text.trim() === '' ? null : parseQuantity(text, p.kind, p.unit, range, p.perUSCm);
  const editing = touched || draft !== '';
  const error = editing && parsed && !parsed.ok ? quantityMessage(parsed.problem) : undefined;
  const take = (): void => {
    if (!touched && draft === '') return;
    if (draft.trim() === '') {
      if (touched && p.current !== '') p.onTake(null, '');
      setTouched(false);
      setDraft('');
      return;
    }
    if (!parsed?.ok) return;
    if (draft.trim() !== p.current) p.onTake(parsed.value, typedInFull(draft.trim(), parsed));
    setTouched(false);
    setDraft('');
  };
  const base = baseUnit(p.kind);
  const converted =
    parsed?.ok && (parsed.unit !== base || (p.unit !== base && parsed.unit !== p.unit))
      ? [`= ${formatQuantity(parsed.value, p.kind, base)}${factorWords(parsed.perUSCm, p)}`, p.description]
          .filter(Boolean)
          .join('; ')
      : p.description;
  return (
    <TextInput
      {...(p.id === undefined ? {} : { id: p.id })}
      label={p.label}
      size="sm"
      inputMode="text"
      autoComplete="off"
      required={p.required ?? false}
      withAsterisk={false}
      value={text}
      maxLength={60}
      placeholder={p.placeholder ?? p.unit}
      error={error}
      description={error ? undefined : converted}
      inputWrapperOrder={['label', 'input', 'description', 'error']}
      rightSection={/^[\d.,\s]*$/.test(text) && text !== '' ? <span className="unit-tail">{p.unit}</span> : undefined}
      rightSectionWidth={54}
      onFocus={(e) => {
        e.currentTarget.select();
      }}
      onChange={(e) => {
        setTouched(true);
        setDraft(e.currentTarget.value);
        p.onDraft?.(
          e.currentTarget.value.trim() === ''
            ? null
            : parseQuantity(e.currentTarget.value, p.kind, p.unit, range, p.perUSCm),
        );
      }}
      onBlur={take}
      onKeyDown={(e: KeyboardEvent) => {
        if (e.key === 'Enter') {
          e.preventDefault();
          take();
        }
      }}
    />
  );
}
