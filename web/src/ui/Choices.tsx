import { Chip } from '@mantine/core';
import type { ReactElement } from 'react';

interface Props<K extends string> {
  readonly of: readonly K[];
  /** null while none is chosen */
  readonly value: K | null;
  readonly words: (choice: K) => string;
  readonly onChoose: (choice: K) => void;
}

/** One of a few, each to be pressed. */
export function Choices<K extends string>({ of, value, words, onChoose }: Props<K>): ReactElement {
  const choose = (pressed: string): void => {
    const choice = of.find((k) => k === pressed);
    if (choice !== undefined) onChoose(choice);
  };
  return (
    <Chip.Group multiple={false} value={value} onChange={choose}>
      <div className="choices">
        {of.map((k) => (
          <Chip key={k} value={k} variant="outline" radius="xs">
            {words(k)}
          </Chip>
        ))}
      </div>
    </Chip.Group>
  );
}
