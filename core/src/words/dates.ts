const words = (parts: Intl.DateTimeFormatOptions): ((ms: number) => string) => {
  // made when it is first asked for: making one takes longer than all it says
  let form: Intl.DateTimeFormat | undefined;
  return (ms) => (form ??= new Intl.DateTimeFormat('en-GB', { ...parts, timeZone: 'UTC' })).format(ms);
};

/** A day in words, such as "3 March 2027", as it is in universal time; for sentences of the core. @param ms since 1970 */
export const dayWords = words({ day: 'numeric', month: 'long', year: 'numeric' });
/** A month in words, such as "March 2027". @param ms since 1970 */
export const monthWords = words({ month: 'long', year: 'numeric' });

/** Mean month and week, days. */
const MONTH_DAYS = 30.44;
const WEEK_DAYS = 7;

/**
 * How often something is done, as a household reads it: whole weeks, months or years, rounded down so that it is never late.
 * @param days between two times, above 0. Worked values: 286 gives "every 9 months", 45 "every 6 weeks", 1100 "every 3 years"
 */
export function intervalWords(days: number): string {
  const [unit, count] =
    days < 2 * MONTH_DAYS
      ? ['week', days / WEEK_DAYS]
      : days < 24 * MONTH_DAYS
        ? ['month', days / MONTH_DAYS]
        : ['year', days / (12 * MONTH_DAYS)];
  // a sheet's own months are not a day short of themselves
  const whole = Math.max(1, Math.floor(count + 0.02));
  return whole === 1 ? `every ${unit}` : `every ${String(whole)} ${unit}s`;
}
