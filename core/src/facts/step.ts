/** One thing to do, look at or wait for. */
export interface RunStep {
  readonly key: string;
  readonly phase: 'Before water' | 'Pre-filters' | 'Membrane' | 'Fill and discard' | 'Leave it right';
  readonly kind: 'do' | 'look' | 'wait';
  readonly title: string;
  readonly detail: string;
  readonly caution?: string;
  /** how long it takes; a wait gets a clock */
  readonly minutes: number;
  /** components that are wet once it is done */
  readonly wets: readonly string[];
  /** components it is done for: it is done again when one of them is changed; none for what a change brings along */
  readonly of: readonly string[];
  /** what must be done before it, by key; the step before it where nothing is said; none where it needs nothing */
  readonly needs?: readonly string[] | undefined;
  /** steps nobody may tick before this one's reading is written down */
  readonly bars?: readonly string[];
  /** a reading that is written down with it */
  readonly reads?: StepReading;
  /** a wait's content at its end, L, for the drawing */
  readonly fillsToL?: number;
  readonly meanwhile?: string;
}

/** A figure read while a step is done. */
export interface StepReading {
  /** "Total chlorine of the feed" */
  readonly label: string;
  readonly unit: string;
  /** it is done only with a figure no higher than this; or than what another step read */
  readonly most?: number;
  readonly mostOf?: string;
}

/** A step before it is on the sheet. */
export type NewStep = Omit<RunStep, 'wets' | 'of'> & { wets?: readonly string[]; of?: readonly string[] };
/** Takes a step onto the sheet. */
export type Add = (step: NewStep) => void;
