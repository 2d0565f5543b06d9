import { afterEach, describe, expect, jest, test } from '@jest/globals';
import { act, cleanup, render, screen } from '@testing-library/react';
import { useLayoutEffect, useState, type ComponentType, type ReactElement } from 'react';
import { lazyPart, type LazyPart } from '../boot/lazyPart.ts';
import { useLazyPart } from './useLazyPart.ts';

type Part = ComponentType<{ word: string }>;
function Sheet({ word }: { word: string }): ReactElement {
  const [n, setN] = useState(0);
  return (
    <button
      onClick={() => {
        setN(n + 1);
      }}
    >
      {word} {n}
    </button>
  );
}
function Place({ of }: { of: LazyPart<{ word: string }> }): ReactElement {
  const { Part, fault } = useLazyPart(of);
  if (fault) return <p>{fault.message}</p>;
  return Part ? <Part word="here" /> : <p>coming</p>;
}
afterEach(cleanup);

describe('a late part', () => {
  test('is asked for once, comes after its script, and keeps what it holds', async () => {
    const load = jest.fn(() => Promise.resolve({ default: Sheet as Part }));
    const part = lazyPart(load);
    const { rerender } = render(<Place of={part} />);
    expect(screen.getByText('coming')).toBeTruthy();
    await act(() => part.fetch());
    act(() => {
      screen.getByRole('button').click();
    });
    rerender(<Place of={part} />);
    expect(screen.getByText('here 1')).toBeTruthy();
    cleanup();
    // a component is a function too: what has come must not be taken for a state to be worked out
    const again = render(<Place of={part} />);
    expect(screen.getByText('here 0')).toBeTruthy();
    again.rerender(<Place of={part} />);
    expect(screen.getByText('here 0')).toBeTruthy();
    expect(load.mock.calls.length).toBeLessThanOrEqual(2);
  });

  test('whose script comes just after it was drawn without it, for somebody else, is drawn', async () => {
    let come: Part | null = null;
    const part: LazyPart<{ word: string }> = {
      get come() {
        return come;
      },
      fetch: () => Promise.resolve(),
    };
    const Else = (): null => {
      useLayoutEffect(() => {
        come = Sheet;
      });
      return null;
    };
    render(
      <>
        <Place of={part} />
        <Else />
      </>,
    );
    expect(await screen.findByText('here 0')).toBeTruthy();
  });

  test('says why it does not come, and is asked for again when it is opened again', async () => {
    let signal = false;
    const part = lazyPart<{ word: string }>(() =>
      signal ? Promise.resolve({ default: Sheet as Part }) : Promise.reject(new Error('no signal')),
    );
    render(<Place of={part} />);
    expect(await screen.findByText('no signal')).toBeTruthy();
    cleanup();
    signal = true;
    render(<Place of={part} />);
    expect(await screen.findByText('here 0')).toBeTruthy();
  });

  test('another part in its place does not wear its fault', async () => {
    const broken = lazyPart<{ word: string }>(() => Promise.reject(new Error('no signal')));
    const whole = lazyPart(() => Promise.resolve({ default: Sheet as Part }));
    const { rerender } = render(<Place of={broken} />);
    expect(await screen.findByText('no signal')).toBeTruthy();
    rerender(<Place of={whole} />);
    expect(await screen.findByText('here 0')).toBeTruthy();
  });
});
