/** What a thing takes up, upright, mm. */
export interface Body {
  readonly widthMm: number;
  readonly depthMm: number;
  readonly heightMm: number;
}
