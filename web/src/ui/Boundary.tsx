import { Anchor, Button } from '@mantine/core';
import type { ReactElement } from 'react';
import { Link } from 'react-router';

/** What a person sees where a drawing or a page failed: no stack, and a way on. */
export function Boundary(): ReactElement {
  return (
    <main className="plain-page">
      <h1>This page could not be drawn</h1>
      <p>Everything recorded is kept. Load it again, or go back to the round.</p>
      <Button
        onClick={() => {
          window.location.reload();
        }}
      >
        Load again
      </Button>{' '}
      <Anchor href="/">Back to the round</Anchor>
    </main>
  );
}

export function NoSuchPage(): ReactElement {
  return (
    <main className="plain-page">
      <h1>There is no such page</h1>
      <p>
        <Anchor component={Link} to="/">
          Back to the round
        </Anchor>
      </p>
    </main>
  );
}
