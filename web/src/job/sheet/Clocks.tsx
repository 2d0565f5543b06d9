import { formatMinutes, LATER_LOOKS, type Schedule } from '@katharos/core';
import { Button, Switch } from '@mantine/core';
import { IconCalendarPlus } from '../../ui/icons.ts';
import { useState, type ReactElement } from 'react';
import { useJob } from '../useJob.ts';
import { download } from '../../ui/download.ts';
import { nowMs } from '../../ui/clock.ts';
import { time } from './times.ts';
import { useRunning } from '../Alarm.tsx';
import { isQuiet, ring, setQuiet } from '../useAlarm.ts';

const DAY_MS = 86_400_000;

/** Every clock that runs beside the one in hand, with when it is due or since when it is. */
export function Clocks({
  now,
  inHand,
  onTake,
}: {
  readonly now: number;
  readonly inHand: string | null;
  readonly onTake: (key: string) => void;
}): ReactElement | null {
  const running = useRunning();
  const others = running.filter((c) => c.key !== inHand);
  if (others.length === 0) return null;
  return (
    <ul className="clocks" aria-label="Other clocks">
      {others.map((c) => (
        <li key={c.key} data-over={c.dueMs <= now}>
          <button
            type="button"
            className="plain"
            onClick={() => {
              onTake(c.key);
            }}
          >
            {c.title}
          </button>
          <b>{time(c.dueMs)}</b>
          <span>
            {c.dueMs <= now
              ? `due ${formatMinutes((now - c.dueMs) / 60000)} ago`
              : `${formatMinutes((c.dueMs - now) / 60000)} to go`}
          </span>
        </li>
      ))}
    </ul>
  );
}

/** How a clock makes itself heard, on this page and beyond it; nothing while none runs. */
export function Heard({ schedule }: { readonly schedule: Schedule }): ReactElement | null {
  const { household, id } = useJob();
  const [quiet, setIsQuiet] = useState(isQuiet);
  const running = useRunning();
  if (running.length === 0) return null;
  const toCalendar = async (): Promise<void> => {
    // fetched when it is wanted: few do
    const { calendarOf } = await import('./calendar.ts');
    const looks = LATER_LOOKS.map((l) => ({
      uid: `${id}.${l.key}`,
      place: household.place,
      title: `${household.name}: ${l.title}`,
      atMs: schedule.doneAtMs + l.days * DAY_MS,
      minutes: 15,
      text: 'A dry paper towel round each joint, and the floor of the cupboard.',
    }));
    const clocks = running.map((c) => ({
      uid: `${id}.${c.key}`,
      place: household.place,
      title: `${household.name}: ${c.title}`,
      atMs: c.dueMs,
      minutes: 5,
      text: 'The clock is over: tick it in Katharos.',
    }));
    download('katharos-clocks.ics', calendarOf([...clocks, ...looks], nowMs()), 'text/calendar');
  };
  return (
    <div className="clocks-heard">
      <Switch
        size="md"
        label="Rings and shakes when it is time"
        checked={!quiet}
        onChange={(e) => {
          const rings = e.currentTarget.checked;
          setQuiet(!rings);
          setIsQuiet(!rings);
          if (rings) ring();
        }}
      />
      <Button
        size="xs"
        variant="default"
        leftSection={<IconCalendarPlus size={14} />}
        onClick={() => void toCalendar()}
      >
        For my calendar
      </Button>
      <small>
        No page rings on a locked phone: its own calendar does. The entries hold this clock and the later looks.
      </small>
    </div>
  );
}
