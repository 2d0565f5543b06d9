import { commissionedAt, isDone, LATER_LOOKS, type RunStep, type SystemView } from '@katharos/core';
import { Button } from '@mantine/core';
import dayjs from 'dayjs';
import type { ReactElement } from 'react';
import { useJob } from '../../job/useJob.ts';
import { time } from '../../job/sheet/times.ts';

/** A later look as a step: it is done like those of the day. */
const asStep = (l: (typeof LATER_LOOKS)[number]): RunStep => ({
  key: l.key,
  phase: 'Leave it right',
  kind: 'look',
  title: l.title,
  detail: 'A dry paper towel round each joint, and the floor of the cupboard.',
  minutes: 15,
  wets: [],
  of: [],
  needs: [],
});

/** The later look that was taken in hand; undefined where it is none, or done. */
export function laterLook(key: string | null, ticks: Parameters<typeof isDone>[0]): RunStep | undefined {
  const look = LATER_LOOKS.find((l) => l.key === key);
  return look && !isDone(ticks, look.key) ? asStep(look) : undefined;
}

/** Looks that come after the day: done, given a day in the round, or to be given one. */
export function LaterLooks({
  view,
  onTake,
}: {
  readonly view: SystemView;
  readonly onTake: (key: string) => void;
}): ReactElement | null {
  const { record, add, personName } = useJob();
  const wet = commissionedAt(view.sheet, record);
  if (wet === null) return null;
  return (
    <ul className="later-looks" aria-label="Looks still to come">
      {LATER_LOOKS.map((l) => {
        const done = record.ticks[l.key];
        const planned = record.visits.find((v) => v.reason === l.title && v.on !== undefined);
        const day = dayjs(wet).add(l.days, 'day');
        return (
          <li key={l.key}>
            <b>{l.title}</b>
            {done?.done ? (
              <span>
                all dry, {time(Date.parse(done.at))}, {personName(done.by)}
              </span>
            ) : (
              <>
                <span>
                  {planned ? `in Rounds for ${dayjs(planned.on).format('ddd D MMM')}` : `by ${day.format('ddd D MMM')}`}
                </span>
                {!planned && (
                  <Button
                    size="sm"
                    variant="default"
                    onClick={() => {
                      add({ kind: 'visit', on: day.toISOString(), reason: l.title, changed: [], toChange: [] });
                    }}
                  >
                    Put it into Rounds
                  </Button>
                )}
                <Button
                  size="sm"
                  onClick={() => {
                    onTake(l.key);
                  }}
                >
                  Look now
                </Button>
              </>
            )}
          </li>
        );
      })}
    </ul>
  );
}
