import { Alert, Button, Group, PasswordInput } from '@mantine/core';
import { useEffect, useState, type ReactElement } from 'react';
import { dropCode, isShut, LEFT_MS, shut, tryCode } from '../data/lock.ts';
import { personChosen, selectActing } from '../data/session.ts';
import { useAppDispatch, useAppSelector, useAppStore } from '../data/store.ts';
import { SignInForm } from './SignIn.tsx';

/** Whether who acts has a code on this device that has to be given first, and the way past it. */
export function useLocked(): { readonly locked: boolean; readonly onOpen: () => void } {
  const personId = useAppSelector((s) => s.session.personId);
  const [asked, setAsked] = useState(0);
  useEffect(() => {
    let leftAt: number | null = null;
    const look = (): void => {
      if (document.visibilityState === 'hidden') leftAt = Date.now();
      else if (leftAt !== null && Date.now() - leftAt > LEFT_MS) {
        shut();
        setAsked((n) => n + 1);
      }
    };
    document.addEventListener('visibilitychange', look);
    return () => {
      document.removeEventListener('visibilitychange', look);
    };
  }, []);
  const onOpen = (): void => {
    setAsked(asked + 1);
  };
  return { locked: isShut(personId), onOpen };
}

/** Asks for the code of who acts; what is half typed on the page comes back behind it. */
export function Locked({ onOpen }: { readonly onOpen: () => void }): ReactElement {
  const dispatch = useAppDispatch();
  const store = useAppStore();
  const acting = useAppSelector(selectActing);
  const others = useAppSelector((s) => s.session.here).filter((p) => p.id !== acting?.id);
  const [code, setCode] = useState('');
  const [words, setWords] = useState<string | null>(null);
  /** why the code is not asked for any more */
  const [instead, setInstead] = useState<'spent' | 'forgotten' | null>(null);
  if (!acting) return <main className="sign-in" />;
  const go = async (): Promise<void> => {
    const r = await tryCode(acting.id, code);
    setCode('');
    if (r.kind === 'open') onOpen();
    else if (r.kind === 'spent') setInstead('spent');
    else setWords(`That is not the code. ${String(r.left)} ${r.left === 1 ? 'try is' : 'tries are'} left.`);
  };
  return (
    <main className="sign-in">
      <h1>{acting.name}</h1>
      {instead !== null ? (
        <>
          {instead === 'spent' ? (
            <Alert color="yellow" role="alert" title="The code no longer opens this device">
              It was wrong too often. Sign in, and set another under “Sign out, password, code”. What was not sent is
              kept.
            </Alert>
          ) : (
            <p>
              Sign in, and the code is gone: set another under “Sign out, password, code”. What was not sent is kept.
            </p>
          )}
          <SignInForm
            onIn={() => {
              // somebody else's stays
              dropCode(store.getState().session.personId ?? '');
              onOpen();
            }}
          />
        </>
      ) : (
        <form
          onSubmit={(e) => {
            e.preventDefault();
            void go();
          }}
        >
          <PasswordInput
            label="Your code for this device"
            inputMode="numeric"
            autoComplete="off"
            autoFocus
            value={code}
            error={words}
            onChange={(e) => {
              setCode(e.currentTarget.value);
            }}
          />
          <Group mt="md">
            <Button type="submit" disabled={code === ''}>
              Open
            </Button>
            <Button
              variant="subtle"
              onClick={() => {
                setInstead('forgotten');
              }}
            >
              Forgotten
            </Button>
          </Group>
        </form>
      )}
      {others.map((p) => (
        <Button
          key={p.id}
          mt="md"
          mr="sm"
          variant="default"
          onClick={() => {
            dispatch(personChosen(p.id));
          }}
        >
          {p.name} works instead
        </Button>
      ))}
    </main>
  );
}
