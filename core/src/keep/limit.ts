import type { WornByWater } from '../system/wear.ts';

/** What ends something that wears: its calendar, its hours, the water through it, or what was seen in this house. */
export type WornBy = 'calendar' | 'proof' | 'hours' | WornByWater | 'pressure' | 'found' | 'unknown';

/** One way in which something comes to its end: after so many days, with the band that holds it in about nine of ten. */
export interface LifeLimit {
  readonly by: WornBy;
  readonly days: number;
  readonly lowDays: number;
  readonly highDays: number;
  /** what it hangs on: months, hours or litres by its sheet, mg/L, bar lost, days it was found after */
  readonly at: number;
}
