import dayjs from 'dayjs';
import { nowMs } from '../../ui/clock.ts';

/** A moment as people say it: its time today, its day with it on another. @param ms since 1970 */
export const time = (ms: number): string =>
  dayjs(ms).format(dayjs(ms).isSame(dayjs(nowMs()), 'day') ? 'HH:mm' : 'ddd HH:mm');
