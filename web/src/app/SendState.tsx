import { Button, Popover } from '@mantine/core';
import dayjs from 'dayjs';
import type { ReactElement } from 'react';
import { useAppDispatch, useAppSelector } from '../data/store.ts';
import { dropRefused, sendOutbox } from '../data/outbox.ts';

/** Says whether what was recorded has reached the server, waits on this device, or was refused. */
export function SendState(): ReactElement {
  const { pending, refused, link, lastSentAt } = useAppSelector((s) => s.outbox);
  const dispatch = useAppDispatch();
  const words =
    refused.length > 0
      ? `${String(refused.length)} refused`
      : pending.length > 0
        ? link === 'away'
          ? `server away, ${String(pending.length)} kept here`
          : `sending ${String(pending.length)}`
        : lastSentAt === null
          ? 'all sent'
          : `all sent ${dayjs(lastSentAt).format('HH:mm')}`;
  return (
    <Popover position="bottom-end" width={320}>
      <Popover.Target>
        <button
          type="button"
          className="strip-send"
          data-state={refused.length > 0 ? 'refused' : link === 'away' ? 'away' : 'ok'}
        >
          <span role="status">{words}</span>
        </button>
      </Popover.Target>
      <Popover.Dropdown>
        {refused.length === 0 && pending.length === 0 && <p>Everything recorded here is on the server.</p>}
        {pending.length > 0 && (
          <>
            <p>
              {pending.length} entries wait on this device. They are sent by themselves, in order, and survive a reload.
            </p>
            <Button
              size="xs"
              onClick={() => {
                void dispatch(sendOutbox());
              }}
            >
              Try now
            </Button>
          </>
        )}
        {refused.map((r) => (
          <p key={r.fact.id}>
            {r.fact.kind}: {r.reason}{' '}
            <Button
              size="compact-xs"
              variant="default"
              onClick={() => {
                void dispatch(dropRefused(r.fact.id));
              }}
            >
              Drop it
            </Button>
          </p>
        ))}
      </Popover.Dropdown>
    </Popover>
  );
}
