import { ROLE_WORDS, type Signed } from '@katharos/contract';
import { Alert, Button, Modal, Stack, TextInput } from '@mantine/core';
import { useState, type ReactElement } from 'react';
import { selectApart } from '../data/outbox/state.ts';
import { askSession, clickIn, signIn } from '../data/signing.ts';
import { useAppDispatch, useAppSelector } from '../data/store.ts';
import { Fault, faultOf, LetInForm, Password, Remember } from './LetInForm.tsx';
import './signIn.css';

/** The page of a device on which nobody is signed in: nothing of the firm is on it. */
export function SignInPage(): ReactElement {
  const { door, begun, reached, click } = useAppSelector((s) => s.session);
  const apart = useAppSelector(selectApart).length;
  const dispatch = useAppDispatch();
  return (
    <main className="sign-in">
      <h1>Katharos</h1>
      <p>Under-sink reverse osmosis: gauged, sized, plumbed, flushed, proved and kept.</p>
      {door === 'ended' && (
        <Alert color="red" role="alert" title="This device was ended by the owner of the firm">
          What it knew of the firm is gone from it.
        </Alert>
      )}
      {apart > 0 && (
        <Alert color="yellow" role="alert" title={`${String(apart)} not sent`}>
          {apart === 1 ? 'One entry was' : `${String(apart)} entries were`} made on this device and{' '}
          {apart === 1 ? 'has' : 'have'} not reached the server. {apart === 1 ? 'It is' : 'They are'} kept apart, and
          sent once whoever made {apart === 1 ? 'it' : 'them'} signs in here.
        </Alert>
      )}
      {!reached && (
        <Alert color="yellow" role="alert" title="The server does not answer">
          Nobody has been signed in on this device lately, so it knows nothing of the firm by itself.
          <Button size="compact-sm" mt="xs" onClick={() => void dispatch(askSession())}>
            Try again
          </Button>
        </Alert>
      )}
      {reached && !begun && click === null ? (
        <Alert color="blue" title="Nobody owns this firm yet">
          When the application was started it printed a link that works once. Open it here to become the owner.
        </Alert>
      ) : (
        <SignInForm />
      )}
    </main>
  );
}

/** Asks somebody in without leaving the page: what is typed on it stays. @param onClose left out, it must be answered */
export function SignInDialog({ onClose }: { readonly onClose?: () => void }): ReactElement {
  return (
    <Modal
      opened
      onClose={onClose ?? (() => undefined)}
      withCloseButton={onClose !== undefined}
      closeOnEscape={onClose !== undefined}
      closeOnClickOutside={onClose !== undefined}
      title={onClose ? 'Who else works on this device?' : 'Sign in again'}
    >
      {!onClose && <p>The server lets nobody in from this device any more. What is on the page stays as it is.</p>}
      <SignInForm {...(onClose ? { onIn: onClose } : {})} />
    </Modal>
  );
}

/** Who may come in by a click, or a name and a password. */
export function SignInForm({ onIn }: { readonly onIn?: () => void }): ReactElement {
  const click = useAppSelector((s) => s.session.click);
  return click ? <Names people={click} {...(onIn ? { onIn } : {})} /> : <PasswordForm {...(onIn ? { onIn } : {})} />;
}

/** Who may come in by a click, in the demo. */
function Names({ people, onIn }: { readonly people: readonly Signed[]; readonly onIn?: () => void }): ReactElement {
  const dispatch = useAppDispatch();
  const [fault, setFault] = useState<string | null>(null);
  const come = async (id: string): Promise<void> => {
    const r = await dispatch(clickIn(id));
    if (r.ok) onIn?.();
    else setFault(faultOf(r));
  };
  return (
    <>
      <p>This is the demo: choose who you are. Every reading, tick and look carries the name.</p>
      <Stack gap="xs">
        {people.map((p) => (
          <Button
            key={p.id}
            className="sign-in-name"
            variant="default"
            size="md"
            fullWidth
            onClick={() => void come(p.id)}
          >
            <span>{p.name}</span>
            <small className="sign-in-role">
              {p.role}: {ROLE_WORDS[p.role]}
            </small>
          </Button>
        ))}
      </Stack>
      <Fault words={fault} />
    </>
  );
}

function PasswordForm({ onIn }: { readonly onIn?: () => void }): ReactElement {
  const dispatch = useAppDispatch();
  const [name, setName] = useState('');
  const [password, setPassword] = useState('');
  const [remember, setRemember] = useState(false);
  return (
    <>
      <LetInForm
        go="Sign in"
        ready={name.trim() !== '' && password !== ''}
        ask={() => dispatch(signIn(name, password, remember))}
        onIn={() => onIn?.()}
      >
        <TextInput
          label="Name"
          autoComplete="username"
          maxLength={120}
          value={name}
          onChange={(e) => {
            setName(e.currentTarget.value);
          }}
        />
        <Password label="Password" value={password} onChange={setPassword} />
        <Remember checked={remember} onChange={setRemember} />
      </LetInForm>
      <p className="small">Forgotten? The owner of the firm makes you a link for a new one.</p>
    </>
  );
}
