import { Button } from '@mantine/core';
import { useState, type ReactElement } from 'react';

/** Says that a dialog opens with what was typed in it before and not saved, and lets it go. */
export function LeftUnsaved({
  changed,
  onStartOver,
}: {
  changed: boolean;
  onStartOver: () => void;
}): ReactElement | null {
  const [left] = useState(changed);
  if (!left || !changed) return null;
  return (
    <p className="left-unsaved" role="status">
      As it was left here, not saved yet.{' '}
      <Button size="compact-xs" variant="default" onClick={onStartOver}>
        Start over
      </Button>
    </p>
  );
}
