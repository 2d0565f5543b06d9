import { Button } from '@mantine/core';
import dayjs from 'dayjs';
import type { ReactElement } from 'react';
import { useJob } from '../../job/useJob.ts';

/** Something the household agreed to, written down with who heard it and when; told again once what was agreed is otherwise. */
export function Agreed({ step, what, label }: { step: string; what: string; label: string }): ReactElement | null {
  const { record, add, personName } = useJob();
  const said = record.ticks[step];
  const stands = said?.done === true && said.note === what;
  const write = (done: boolean): void => {
    add({ kind: 'tick', step, done, note: what });
  };
  if (stands)
    return (
      <p className="agreed">
        <span>
          {label}: {personName(said.by)}, {dayjs(said.at).format('D MMM YYYY HH:mm')}.
        </span>
        <Button
          className="no-print"
          size="compact-xs"
          variant="subtle"
          onClick={() => {
            write(false);
          }}
        >
          Take back
        </Button>
      </p>
    );
  return (
    <p className="agreed">
      {said?.done === true && said.note !== undefined && <span>Agreed before to another: {said.note}.</span>}
      <Button
        className="no-print"
        size="xs"
        onClick={() => {
          write(true);
        }}
      >
        {label}
      </Button>
    </p>
  );
}
