import { Button, Checkbox, PasswordInput, Stack } from '@mantine/core';
import { useState, type ReactElement, type ReactNode } from 'react';
import { errorWords } from '../data/errors.ts';
import type { LetIn } from '../data/signing.ts';

/** Why somebody was not let in. */
export const faultOf = (r: Extract<LetIn, { ok: false }>): string =>
  r.data === undefined ? 'The server does not answer. Try again when there is signal.' : errorWords({ data: r.data });

/** What was wrong, said where it was asked. */
export function Fault({ words }: { readonly words: string | null }): ReactElement | null {
  if (words === null) return null;
  return (
    <p role="alert" className="caution">
      {words}
    </p>
  );
}

interface FormProps {
  readonly children: ReactNode;
  /** what the button says */
  readonly go: string;
  readonly ready: boolean;
  /** asks the server */
  readonly ask: () => Promise<LetIn>;
  readonly onIn: () => void;
}

/** A form that asks the server for something only it can give, and says at its foot why it was not given. */
export function LetInForm({ children, go, ready, ask, onIn }: FormProps): ReactElement {
  const [busy, setBusy] = useState(false);
  const [fault, setFault] = useState<string | null>(null);
  const submit = async (): Promise<void> => {
    setBusy(true);
    setFault(null);
    const r = await ask();
    setBusy(false);
    if (r.ok) onIn();
    else setFault(faultOf(r));
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void submit();
      }}
    >
      <Stack gap="sm">
        {children}
        <Fault words={fault} />
        <Button type="submit" loading={busy} disabled={!ready}>
          {go}
        </Button>
      </Stack>
    </form>
  );
}

interface PasswordProps {
  readonly label: string;
  readonly description?: string;
  /** one that is chosen now rather than known */
  readonly fresh?: boolean;
  readonly value: string;
  readonly onChange: (value: string) => void;
}

export function Password({ label, description, fresh = false, value, onChange }: PasswordProps): ReactElement {
  return (
    <PasswordInput
      label={label}
      {...(description === undefined ? {} : { description })}
      autoComplete={fresh ? 'new-password' : 'current-password'}
      maxLength={200}
      value={value}
      onChange={(e) => {
        onChange(e.currentTarget.value);
      }}
    />
  );
}

interface RememberProps {
  readonly checked: boolean;
  readonly onChange: (checked: boolean) => void;
}

/** Whether a device stays signed in. */
export function Remember({ checked, onChange }: RememberProps): ReactElement {
  return (
    <Checkbox
      label="Remember this device"
      description="You stay signed in when the browser is closed, and it opens without signal. Only on a device of your own or the firm’s."
      checked={checked}
      onChange={(e) => {
        onChange(e.currentTarget.checked);
      }}
    />
  );
}
