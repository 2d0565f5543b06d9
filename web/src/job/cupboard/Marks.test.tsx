import { expect, jest, test } from '@jest/globals';
import { fireEvent, render, screen } from '@testing-library/react';
import { Marks, type DrawnMark } from './Marks.tsx';

const mark = (i: number, chosen = false): DrawnMark => ({
  key: `j${String(i)}`,
  number: String(i),
  at: { x: 20 * i, y: 0, z: 50 },
  state: 'open',
  chosen,
  label: `Joint ${String(i)}`,
});
const drawn = (marks: readonly DrawnMark[], width: number, onMark?: (key: string) => void) =>
  render(
    <svg>
      <Marks marks={marks} onMark={onMark} width={width} height={100} point={(at) => [at.x, at.z]} />
    </svg>,
  );

test('where there is room every mark has its number', () => {
  const { container } = drawn([mark(1), mark(2)], 400);
  expect([...container.querySelectorAll('text')].map((t) => t.textContent)).toEqual(['1', '2']);
  expect(container.querySelector('rect')).toBeNull();
});

test('on a small drawing they are dots, the chosen one numbered, and a tap takes the nearest', () => {
  const onMark = jest.fn();
  const all = Array.from({ length: 16 }, (_, i) => mark(i + 1, i === 3));
  const { container } = drawn(all, 220, onMark);
  expect([...container.querySelectorAll('text')].map((t) => t.textContent)).toEqual(['4']);
  const taps = container.querySelector('rect');
  if (!taps) throw new Error('nothing to tap');
  taps.getBoundingClientRect = () => ({ left: 10, top: 10, width: 440, height: 200 }) as DOMRect;
  fireEvent.click(taps, { clientX: 10 + 2 * 133, clientY: 10 });
  expect(onMark).toHaveBeenCalledWith('j7');
  // by keys each of them is reached by its own name
  fireEvent.keyDown(screen.getByRole('button', { name: 'Joint 9' }), { key: 'Enter' });
  expect(onMark).toHaveBeenLastCalledWith('j9');
});
