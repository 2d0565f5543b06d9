import * as z from 'zod';
import { text } from '../words/stored.ts';

/** Parts of a sheet, in the order they are done: of a first flush, and of a change. */
export const PHASES = [
  'Before water',
  'Pre-filters',
  'Membrane',
  'Open it',
  'Read it first',
  'Shut it',
  'Change',
  'Flush it through',
  'Fill and discard',
  'Leave it right',
] as const;

/** One thing to do, look at or wait for. */
export interface RunStep {
  readonly key: string;
  readonly phase: (typeof PHASES)[number];
  readonly kind: 'do' | 'look' | 'wait';
  readonly title: string;
  readonly detail: string;
  readonly caution?: string | undefined;
  /** how long it takes; a wait gets a clock */
  readonly minutes: number;
  /** components that are wet once it is done */
  readonly wets: readonly string[];
  /** components it is done for: it is done again when one of them is changed; none for what a change brings along */
  readonly of: readonly string[];
  /** what must be done before it, by key; the step before it where nothing is said; none where it needs nothing */
  readonly needs?: readonly string[] | undefined;
  /** steps nobody may tick before this one's reading is written down */
  readonly bars?: readonly string[] | undefined;
  /** a reading that is written down with it */
  readonly reads?: StepReading | undefined;
  /** a wait's content at its end, L, for the drawing */
  readonly fillsToL?: number | undefined;
  readonly meanwhile?: string | undefined;
  /** the component that something new goes into: what goes in is written down with it */
  readonly puts?: string | undefined;
}

/** A figure read while a step is done. */
export interface StepReading {
  /** "Total chlorine of the feed" */
  readonly label: string;
  readonly unit: string;
  /** it is done only with a figure no higher than this; or than what another step read */
  readonly most?: number | undefined;
  readonly mostOf?: string | undefined;
}

/** A step before it is on the sheet. */
export type NewStep = Omit<RunStep, 'wets' | 'of'> & { wets?: readonly string[]; of?: readonly string[] };
/** Takes a step onto the sheet. */
export type Add = (step: NewStep) => void;

const component = text(80).min(1);
/** A step as it is stored. */
export const StepSchema: z.ZodType<RunStep> = z.object({
  key: text(120).min(1),
  phase: z.enum(PHASES),
  kind: z.enum(['do', 'look', 'wait']),
  title: text(300),
  detail: text(1000),
  caution: text(600).optional(),
  minutes: z.number().min(0).max(5000),
  wets: z.array(component).max(80),
  of: z.array(component).max(80),
  needs: z.array(text(120)).max(80).optional(),
  bars: z.array(text(120)).max(20).optional(),
  reads: z
    .object({ label: text(120), unit: text(20), most: z.number().optional(), mostOf: text(120).optional() })
    .optional(),
  fillsToL: z.number().optional(),
  meanwhile: text(600).optional(),
  puts: component.optional(),
});
