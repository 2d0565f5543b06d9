import { Button, Group } from '@mantine/core';
import type { ReactElement } from 'react';
import type { Difference } from './mergeEdits.ts';

/** Somebody else saved the same record meanwhile: both side by side, and the choice. */
export function Theirs({
  what,
  differences,
  onKeepMine,
  onTakeTheirs,
}: {
  /** as in "this part" */
  what: string;
  differences: readonly Difference[];
  onKeepMine: () => void;
  onTakeTheirs: () => void;
}): ReactElement {
  return (
    <div className="theirs" role="alert">
      <b>Somebody else changed {what} meanwhile</b>
      {differences.length > 0 && (
        <table className="quiet-table">
          <thead>
            <tr>
              <th />
              <th>yours</th>
              <th>theirs</th>
            </tr>
          </thead>
          <tbody>
            {differences.map((d) => (
              <tr key={d.field}>
                <th>{d.field}</th>
                <td>
                  {d.mine === null ? <span className="small">not changed</span> : d.mine === '' ? 'nothing' : d.mine}
                </td>
                <td>{d.theirs === '' ? 'nothing' : d.theirs}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <p className="small">Keeping yours puts what you changed on top of theirs.</p>
      <Group mt="sm">
        <Button size="xs" onClick={onKeepMine}>
          Keep mine
        </Button>
        <Button size="xs" variant="default" onClick={onTakeTheirs}>
          Take theirs
        </Button>
      </Group>
    </div>
  );
}
