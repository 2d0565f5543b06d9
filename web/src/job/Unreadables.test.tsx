import { afterEach, describe, expect, test } from '@jest/globals';
import { cleanup, screen } from '@testing-library/react';
import { jobOf, readings, show } from '../testing/jobContext.tsx';
import { Unreadables } from './Unreadables.tsx';

afterEach(cleanup);

describe('what cannot be read of a job', () => {
  test('is told with what it holds', () => {
    const said = '{"kind":"weather","rain":3}';
    show(<Unreadables />, { ...jobOf(readings(), false), unreadable: [{ id: 'a', what: 'fact', said }] });
    expect(screen.getByText(/An entry of this job cannot be read .* It is kept as stored/)).toBeTruthy();
    expect(screen.getByText(said)).toBeTruthy();
  });
  test('is not spoken of where there is nothing', () => {
    const { container } = show(<Unreadables />, jobOf(readings(), false));
    expect(container.querySelector('details')).toBeNull();
  });
});
