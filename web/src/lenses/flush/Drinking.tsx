import { leftOvernight, type Schedule, type SystemView } from '@katharos/core';
import { Button } from '@mantine/core';
import { IconPrinter } from '../../ui/icons.ts';
import dayjs from 'dayjs';
import type { ReactElement } from 'react';
import { usePrintForThem } from '../../job/givenSheets.ts';
import { useJob } from '../../job/useJob.ts';
import { DrinkingTold } from '../../job/drinking/Drinking.tsx';
import { useDrinking } from '../../job/drinking/useDrinking.ts';
import { time } from '../../job/sheet/times.ts';

/** Whether they may drink, once and large, and what must come first. */
export function Drinking({ now }: { readonly now: number }): ReactElement {
  const print = usePrintForThem();
  const told = useDrinking(now);
  return (
    <section aria-label="Drinking" className="drinking">
      <h2 className="zone-title">Drinking</h2>
      <DrinkingTold told={told} reader="firm" now={now} />
      <Button size="xs" variant="default" leftSection={<IconPrinter size={14} />} onClick={print}>
        Sheet for the household
      </Button>
    </section>
  );
}

/** How it is left where the sheet goes on tomorrow. */
export function Overnight({ view, schedule, now }: { readonly view: SystemView; readonly schedule: Schedule; readonly now: number }): ReactElement | null {
  const { record, add } = useJob();
  const today = dayjs(now);
  if (schedule.open.length === 0 || dayjs(schedule.doneAtMs).isSame(today, 'day')) return null;
  const step = `left-${today.format('YYYY-MM-DD')}`;
  const left = record.ticks[step];
  return (
    <details className="overnight">
      <summary>
        {left?.done ? `Left for the night at ${time(Date.parse(left.at))}` : 'It goes on tomorrow: leave it shut overnight'}
      </summary>
      <ol>
        {leftOvernight(view.system).map((w) => (
          <li key={w}>{w}</li>
        ))}
      </ol>
      <Button
        variant="default"
        onClick={() => {
          add({ kind: 'tick', step, done: !left?.done });
        }}
      >
        {left?.done ? 'Take that back' : 'It is left like this'}
      </Button>
    </details>
  );
} // oxfmt-ignore
