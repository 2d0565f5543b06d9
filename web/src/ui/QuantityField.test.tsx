import { MantineProvider } from '@mantine/core';
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { QuantityField, type QuantityFieldProps } from './QuantityField.tsx';

const onTake = jest.fn<QuantityFieldProps['onTake']>();
const show = (change: Partial<QuantityFieldProps> = {}) =>
  render(
    <MantineProvider env="test">
      <QuantityField
        draftKey="t"
        label="Static pressure"
        kind="pressure"
        unit="bar"
        min={0}
        max={25}
        current=""
        onTake={onTake}
        {...change}
      />
    </MantineProvider>,
  );
const field = (): HTMLInputElement => screen.getByLabelText('Static pressure');

beforeEach(() => {
  localStorage.clear();
  onTake.mockClear();
});
afterEach(cleanup);

describe('a figure with any unit', () => {
  test('is converted while it is typed and taken in on Enter', async () => {
    show();
    await userEvent.type(field(), '45 psi');
    expect(screen.getByText('= 3.10 bar')).toBeTruthy();
    await userEvent.type(field(), '{Enter}');
    expect(onTake).toHaveBeenCalledTimes(1);
    expect(onTake.mock.calls[0]?.[0]).toBeCloseTo(3.1026, 3);
    expect(onTake.mock.calls[0]?.[1]).toBe('45 psi');
  });
  test('of the wrong kind is told at the field, is not taken in, and stays over a reload', async () => {
    show();
    await userEvent.type(field(), '12 °C{Enter}');
    expect(screen.getByText(/measures a temperature; this field wants a pressure/)).toBeTruthy();
    expect(onTake).not.toHaveBeenCalled();
    cleanup();
    show();
    expect(field().value).toBe('12 °C');
    expect(screen.getByText(/this field wants a pressure/)).toBeTruthy();
  });
  test('a conductivity shows what it comes to and is kept with its factor', async () => {
    show({ kind: 'concentration', unit: 'mg/L', min: 1, max: 45000, perUSCm: 0.655 });
    await userEvent.type(field(), '640 uS/cm');
    expect(screen.getByText('= 419 mg/L at 0.66 mg/L for each µS/cm')).toBeTruthy();
    await userEvent.type(field(), '{Enter}');
    expect(onTake).toHaveBeenCalledWith(640 * 0.655, '640 µS/cm at 0.655');
  });
  test('and says where its factor comes from', async () => {
    show({ kind: 'concentration', unit: 'mg/L', min: 1, max: 45000, perUSCm: 0.655, perUSCmFrom: 'the factor of pen A' }); // oxfmt-ignore
    await userEvent.type(field(), '640 uS/cm');
    expect(screen.getByText('= 419 mg/L at 0.66 mg/L for each µS/cm, the factor of pen A')).toBeTruthy();
    await userEvent.type(field(), ' at 0.5');
    expect(screen.getByText('= 320 mg/L at 0.50 mg/L for each µS/cm, as written beside it')).toBeTruthy();
  });
  test('emptied takes the reading back; untouched takes nothing', async () => {
    show({ current: '3 bar' });
    await userEvent.click(field());
    await userEvent.tab();
    expect(onTake).not.toHaveBeenCalled();
    await userEvent.clear(field());
    await userEvent.tab();
    expect(onTake).toHaveBeenCalledWith(null, '');
  });
});
