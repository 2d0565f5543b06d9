/** How a figure, or a system, does. */
export type Grade = 'good' | 'watch' | 'act';

/** The worse of two grades. */
export const worseGrade = (a: Grade, b: Grade): Grade =>
  a === 'act' || b === 'act' ? 'act' : a === 'watch' || b === 'watch' ? 'watch' : 'good';

/** Something beside flow and salt that is not as it should be, whatever these say. */
export interface OtherSign {
  readonly grade: Grade;
  readonly reason: string;
  readonly next: string;
}
