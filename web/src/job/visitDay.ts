import dayjs from 'dayjs';

/** Visits are planned no further ahead than this, years. */
const AHEAD_YEARS = 6;

/** A day as it is stored: its noon here, so that no change of clocks moves it to another. @param day YYYY-MM-DD */
export const dayOf = (day: string): string => dayjs(`${day}T12:00`).toISOString();

/**
 * Why a visit cannot be of a day; null where it can.
 * @param day YYYY-MM-DD @param today the same @param beganMs when the system was put in; null where it is not
 */
export function dayProblem(day: string, today: string, beganMs: number | null): string | null {
  if (!/^\d{4}-\d{2}-\d{2}$/.test(day) || !dayjs(day).isValid()) return 'No day.';
  if (dayjs(day).isAfter(dayjs(today).add(AHEAD_YEARS, 'year'))) return `More than ${String(AHEAD_YEARS)} years ahead.`;
  if (beganMs !== null && day < dayjs(beganMs).format('YYYY-MM-DD'))
    return `Before the system was put in, ${dayjs(beganMs).format('D MMMM YYYY')}.`;
  return null;
}
