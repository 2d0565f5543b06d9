import type { QuantityKind } from '../quantity/units.ts';

interface FieldBase {
  readonly label: string;
  readonly group: 'water' | 'pressure' | 'household' | 'place';
  /** what to do to get it, one line */
  readonly how: string;
}
export interface QuantityField extends FieldBase {
  readonly type: 'quantity';
  readonly kind: QuantityKind;
  /** unit a bare number is taken in */
  readonly unit: string;
  /** physical range in the base unit; outside it is refused */
  readonly min: number;
  readonly max: number;
}
export interface ChoiceField extends FieldBase {
  readonly type: 'choice';
  readonly options: Readonly<Record<string, string>>;
  /** where several may be chosen at once, the option that stands alone: none of them */
  readonly severalOr?: string;
}
export type GaugeField = QuantityField | ChoiceField;

/** A figure to read. */
export const q = (
  group: FieldBase['group'],
  label: string,
  kind: QuantityKind,
  unit: string,
  min: number,
  max: number,
  how: string,
): QuantityField => ({ type: 'quantity', group, label, kind, unit, min, max, how });
/** A question with its answers. */
export const c = (
  group: FieldBase['group'],
  label: string,
  options: Readonly<Record<string, string>>,
  how: string,
): ChoiceField => ({ type: 'choice', group, label, options, how });
export const YES_NO = { yes: 'yes', no: 'no' } as const;
