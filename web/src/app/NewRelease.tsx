import { Button, Popover } from '@mantine/core';
import type { ReactElement } from 'react';
import { takeOver } from '../data/release.ts';
import { useAppDispatch, useAppSelector } from '../data/store.ts';

/** Tells that a newer version lies ready; nothing of what is open changes until somebody says so. */
export function NewRelease(): ReactElement | null {
  const dispatch = useAppDispatch();
  const { waits, others } = useAppSelector((s) => s.release);
  if (!waits) return null;
  return (
    <Popover position="bottom-end" width={300}>
      <Popover.Target>
        <button type="button" className="strip-send">
          newer version
        </button>
      </Popover.Target>
      <Popover.Dropdown>
        <p>
          A newer Katharos lies ready on this device. What is open goes on with the one it began with. What is half
          typed and what waits to be sent comes through.
        </p>
        {others === null ? (
          <Button size="xs" onClick={() => void dispatch(takeOver())}>
            Open the newer one
          </Button>
        ) : (
          <p role="alert">
            Katharos is open in {others} more {others === 1 ? 'tab' : 'tabs'}, which still{' '}
            {others === 1 ? 'runs' : 'run'} the older one. Close {others === 1 ? 'it' : 'them'} and{' '}
            <Button size="compact-xs" onClick={() => void dispatch(takeOver())}>
              try again
            </Button>
            ; or leave it: the newer one comes when Katharos is next opened.
          </p>
        )}
      </Popover.Dropdown>
    </Popover>
  );
}
