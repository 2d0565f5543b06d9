const words = (parts: Intl.DateTimeFormatOptions): ((ms: number) => string) => {
  // made when it is first asked for: making one takes longer than all it says
  let form: Intl.DateTimeFormat | undefined;
  return (ms) => (form ??= new Intl.DateTimeFormat('en-GB', { ...parts, timeZone: 'UTC' })).format(ms);
};

/** A day in words, such as "3 March 2027", as it is in universal time; for sentences of the core. @param ms since 1970 */
export const dayWords = words({ day: 'numeric', month: 'long', year: 'numeric' });
/** A month in words, such as "March 2027". @param ms since 1970 */
export const monthWords = words({ month: 'long', year: 'numeric' });
