/** A minute of the day as people write it. */
export const clock = (minute: number): string =>
  `${String(Math.floor(minute / 60))}:${String(Math.floor(minute % 60)).padStart(2, '0')}`;
