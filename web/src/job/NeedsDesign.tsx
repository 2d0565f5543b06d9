import { Button } from '@mantine/core';
import type { ReactElement } from 'react';
import { Link } from 'react-router';
import { useJob } from './useJob.ts';

/** What a later lens shows while no design is approved. */
export function NeedsDesign({ what }: { what: string }): ReactElement {
  const { id, viewProblem, approved } = useJob();
  if (approved && viewProblem === null) return <p className="empty needs-design">Working it out.</p>;
  return (
    <div className="needs-design">
      <p className="headline">
        {approved ? 'This system cannot be worked out' : `${what} begins once a design is approved.`}
      </p>
      {viewProblem !== null && <p className="caution">{viewProblem}</p>}
      <Button component={Link} to={`/jobs/${id}/size`}>
        Go to Size
      </Button>
    </div>
  );
}
