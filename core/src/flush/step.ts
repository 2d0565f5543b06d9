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
  /** a wait's content at its end, L, for the drawing */
  readonly fillsToL?: number;
  readonly meanwhile?: string;
}

/** Takes a step onto the sheet. */
export type Add = (step: Omit<RunStep, 'wets' | 'of'> & { wets?: readonly string[]; of?: readonly string[] }) => void;
