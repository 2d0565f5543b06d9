import type { ProfilePoint } from './project.ts';

/** The computed Line: figures for the drawing, one state, one season. */
export interface Profile {
  readonly points: readonly ProfilePoint[];
  /** along every tube, by its link's id */
  readonly passing: Readonly<
    Record<
      string,
      { readonly fromBar: number; readonly toBar: number; readonly flowLMin: number; readonly tdsMgL: number }
    >
  >;
  readonly closeBar: number;
  readonly osmoticBar: number;
  readonly tankL: number;
  readonly tankFullL: number;
  /** the weakest part's limit on the feed side, bar */
  readonly limitBar: number;
}
