import { Button, Group, PasswordInput } from '@mantine/core';
import { useState, type ReactElement } from 'react';
import { dropCode, hasCode, isCode, setCode } from '../data/lock.ts';

/** Sets or takes away the short code that opens the application on this device. */
export function CodeHere({ personId }: { readonly personId: string }): ReactElement {
  const [code, put] = useState('');
  const [has, setHas] = useState(hasCode(personId));
  const [words, setWords] = useState<string | null>(null);
  const wrong = code !== '' && !isCode(code);
  const set = async (): Promise<void> => {
    try {
      await setCode(personId, code);
      put('');
      setHas(true);
      setWords('From now on it is asked for here.');
    } catch {
      setWords('This device keeps nothing, so no code either.');
    }
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        if (isCode(code)) void set();
      }}
    >
      <h2 className="zone-title">A code for this device</h2>
      <PasswordInput
        label={has ? 'Another code' : 'Code'}
        description="Four to eight digits, asked when Katharos is opened here and after ten minutes out of sight, with signal and without. It keeps curious eyes out. It is no encryption: a device that is lost is ended by the owner."
        inputMode="numeric"
        autoComplete="off"
        value={code}
        error={wrong ? 'Four to eight digits.' : null}
        onChange={(e) => {
          put(e.currentTarget.value);
        }}
      />
      <Group mt="sm">
        <Button type="submit" disabled={!isCode(code)}>
          Set the code
        </Button>
        {has && (
          <Button
            variant="default"
            onClick={() => {
              dropCode(personId);
              setHas(false);
              setWords('No code is asked for here any more.');
            }}
          >
            Without a code
          </Button>
        )}
      </Group>
      {words !== null && <p role="status">{words}</p>}
    </form>
  );
}
