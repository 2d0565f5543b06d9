import { expect, test } from '@jest/globals';
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState, type ReactElement } from 'react';
import { renderIn } from '../../testing/renderIn.tsx';
import { Archive } from './Archive.tsx';

/** What happens to the page where the session is asked anew: all of it is gone for a moment. */
function AskedAnew(): ReactElement {
  const [away, setAway] = useState(false);
  return (
    <>
      <button
        onClick={() => {
          setAway(!away);
        }}
      >
        turn
      </button>
      {!away && <Archive />}
    </>
  );
}

test('what was brought in is still told where the page is drawn anew, as its owner is somebody else now', async () => {
  const told = { jobs: 3, people: 2, pictures: 1, checksum: 'ab'.repeat(32) };
  globalThis.fetch = () => Promise.resolve(Response.json(told, { status: 201 }));
  const { container } = renderIn(<AskedAnew />);
  const field = container.querySelector<HTMLInputElement>('input[type=file]');
  if (!field) throw new Error('no field for a file');
  await userEvent.upload(field, new File(['{}'], 'firm.zip', { type: 'application/zip' }));
  await userEvent.click(screen.getByRole('button', { name: 'Bring it in' }));
  expect((await screen.findByRole('status')).textContent).toContain('3 households');
  await userEvent.click(screen.getByRole('button', { name: 'turn' }));
  expect(screen.queryByRole('status')).toBeNull();
  await userEvent.click(screen.getByRole('button', { name: 'turn' }));
  expect((await screen.findByRole('status')).textContent).toContain('ab'.repeat(32));
});
