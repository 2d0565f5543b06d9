import type { Draw, ExtraName, FieldKey, Placed } from '@katharos/core';

/** One made-up house of the made-up town of Corvane: a chalk ridge, a salt marsh quay, a moor with its own reservoir. */
export interface DemoHouse {
  readonly key: string;
  readonly name: string;
  readonly place: string;
  readonly contact: string;
  readonly phone?: string;
  readonly keyHolder?: string;
  readonly notes: string;
  readonly readings: Partial<Record<FieldKey, { value: number | string; typed: string; instrument?: string }>>;
  /** their day, drawn with them */
  readonly draws?: readonly Draw[];
  /** what stands in the cupboard */
  readonly placed?: Placed;
  /** what was put in beside the sizing */
  readonly beside?: readonly ExtraName[];
  /** visits that are planned: so many hours from now, for what, to change things of these kinds */
  readonly coming?: readonly {
    readonly inHours: number;
    readonly reason: string;
    readonly change?: readonly string[];
    readonly between?: { readonly fromMin: number; readonly untilMin: number };
  }[];
  /** how far the job has come */
  readonly stage: 'new' | 'gauged' | 'designed' | 'dripping' | 'sanitising' | 'flushing' | 'mended' | 'kept';
}

export const n = (
  value: number,
  typed: string,
  instrument: string,
): { value: number; typed: string; instrument: string } => ({
  value,
  typed,
  instrument,
});
export const c = (value: string): { value: string; typed: string } => ({ value, typed: value });
