import dayjs from 'dayjs';

const DAY_MS = 86_400_000;

/** A moment from which they may drink: the hour today, the day and hour within two days, the day after that. */
export function whenWords(ms: number, nowMs: number): string {
  const at = dayjs(ms);
  if (at.isSame(dayjs(nowMs), 'day')) return at.format('HH:mm');
  return ms - nowMs < 2 * DAY_MS ? at.format('dddd D MMMM, HH:mm') : at.format('dddd D MMMM');
}
