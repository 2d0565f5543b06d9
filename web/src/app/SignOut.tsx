import { Button, Group, Modal, PasswordInput, Stack } from '@mantine/core';
import { useState, type ReactElement } from 'react';
import { selectOwnPending } from '../data/outbox/state.ts';
import { selectActing } from '../data/session.ts';
import { newPassword, signOut } from '../data/signing.ts';
import { useAppDispatch, useAppSelector } from '../data/store.ts';
import { faultOf } from './SignIn.tsx';

/** Signing out, here or everywhere, and a new password: what is not sent yet is named first. */
export function SignOut({ onClose }: { readonly onClose: () => void }): ReactElement {
  const dispatch = useAppDispatch();
  const acting = useAppSelector(selectActing);
  const others = useAppSelector((s) => s.session.here).length - 1;
  const click = useAppSelector((s) => s.session.click) !== null;
  const waits = useAppSelector(selectOwnPending).length;
  const [fault, setFault] = useState<string | null>(null);
  const go = async (everywhere: boolean): Promise<void> => {
    const r = await dispatch(signOut(everywhere));
    if (r.ok) onClose();
    else setFault(faultOf(r));
  };
  return (
    <Modal opened onClose={onClose} title={acting?.name ?? 'Sign out'}>
      <Stack gap="sm">
        {waits > 0 && (
          <p className="caution" role="alert">
            {waits} {waits === 1 ? 'entry has' : 'entries have'} not reached the server. Sign out and{' '}
            {waits === 1 ? 'it stays' : 'they stay'} on this device, apart, until {acting?.name} signs in here again.
          </p>
        )}
        {others <= 0 && <p>Nobody else is signed in here: this device then forgets what it knows of the firm.</p>}
        <Group>
          <Button onClick={() => void go(false)}>Sign out here</Button>
          <Button variant="default" onClick={() => void go(true)}>
            Sign out on every device
          </Button>
        </Group>
        {fault !== null && (
          <p role="alert" className="caution">
            {fault}
          </p>
        )}
        {!click && <NewPassword onDone={onClose} />}
      </Stack>
    </Modal>
  );
}

function NewPassword({ onDone }: { readonly onDone: () => void }): ReactElement {
  const dispatch = useAppDispatch();
  const [old, setOld] = useState('');
  const [fresh, setFresh] = useState('');
  const [fault, setFault] = useState<string | null>(null);
  const submit = async (): Promise<void> => {
    const r = await dispatch(newPassword(old, fresh));
    if (r.ok) onDone();
    else setFault(faultOf(r));
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void submit();
      }}
    >
      <Stack gap="xs">
        <h2 className="zone-title">Another password</h2>
        <PasswordInput
          label="As it is now"
          autoComplete="current-password"
          value={old}
          onChange={(e) => {
            setOld(e.currentTarget.value);
          }}
        />
        <PasswordInput
          label="As it shall be"
          description="Ten signs at least. You stay signed in here, and nowhere else."
          autoComplete="new-password"
          value={fresh}
          onChange={(e) => {
            setFresh(e.currentTarget.value);
          }}
        />
        {fault !== null && (
          <p role="alert" className="caution">
            {fault}
          </p>
        )}
        <Button type="submit" variant="default" disabled={old === '' || fresh.length < 10}>
          Set it
        </Button>
      </Stack>
    </form>
  );
}
