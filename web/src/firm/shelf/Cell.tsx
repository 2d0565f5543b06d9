import { TextInput } from '@mantine/core';
import { useState, type ReactElement } from 'react';

/** A figure changed in its cell: taken on Enter or on leaving, put back by Escape or where it is no figure. */
export function Cell({
  label,
  value,
  onTake,
}: {
  label: string;
  value: number | undefined;
  onTake: (value: number | undefined) => Promise<boolean>;
}): ReactElement {
  const now = value === undefined ? '' : String(value);
  const [text, setText] = useState<string | null>(null);
  const typed = text ?? now;
  const number = typed.trim() === '' ? undefined : Number(typed.replace(',', '.'));
  const bad = number !== undefined && !(Number.isFinite(number) && number >= 0);
  const take = (): void => {
    if (text === null || bad) return;
    if (number === value) setText(null);
    else
      void onTake(number).then((ok) => {
        if (ok) setText(null);
      });
  };
  return (
    <TextInput
      variant="unstyled"
      size="xs"
      className="shelf-cell"
      aria-label={label}
      inputMode="decimal"
      value={typed}
      error={bad ? 'a number' : undefined}
      onChange={(e) => {
        setText(e.currentTarget.value);
      }}
      onBlur={take}
      onKeyDown={(e) => {
        if (e.key === 'Enter') take();
        if (e.key === 'Escape') setText(null);
      }}
    />
  );
}
