import type { Person } from '@katharos/contract';
import { Button, Modal, Stack, TextInput } from '@mantine/core';
import { useState, type ReactElement } from 'react';
import { useAddPersonMutation } from '../data/api.ts';
import { errorWords } from '../data/errors.ts';
import { useAppDispatch } from '../data/store.ts';
import { personChosen } from '../data/session.ts';

interface Props {
  readonly people: readonly Person[];
  readonly opened: boolean;
  readonly mustChoose: boolean;
  readonly onClose: () => void;
}

/** Asks once on each device who works: every reading, tick and look carries the name. */
export function PersonDialog({ people, opened, mustChoose, onClose }: Props): ReactElement {
  const dispatch = useAppDispatch();
  const choose = (id: string): void => {
    dispatch(personChosen(id));
    onClose();
  };
  return (
    <Modal
      opened={opened}
      onClose={onClose}
      withCloseButton={!mustChoose}
      closeOnEscape={!mustChoose}
      closeOnClickOutside={!mustChoose}
      title="Who works on this device?"
    >
      <p>Every reading, tick and look carries a name.</p>
      <Stack gap="xs">
        {people.map((p) => (
          <Button
            key={p.id}
            variant="default"
            size="md"
            onClick={() => {
              choose(p.id);
            }}
          >
            {p.name}
          </Button>
        ))}
        <SomebodyElse onAdded={choose} />
      </Stack>
    </Modal>
  );
}

/** Adds a person to the firm; a name that is there already is told at its place. */
function SomebodyElse({ onAdded }: { onAdded: (id: string) => void }): ReactElement {
  const [name, setName] = useState('');
  const [add, { isLoading, error }] = useAddPersonMutation();
  const submit = async (): Promise<void> => {
    const made = await add({ name })
      .unwrap()
      .catch(() => null);
    if (made) onAdded(made.id);
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void submit();
      }}
    >
      <TextInput
        label="Somebody else"
        value={name}
        maxLength={120}
        onChange={(e) => {
          setName(e.currentTarget.value);
        }}
        error={error ? errorWords(error) : undefined}
      />
      <Button type="submit" mt="xs" loading={isLoading} disabled={name.trim() === ''}>
        Add and go on
      </Button>
    </form>
  );
}
