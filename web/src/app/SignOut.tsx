import { Button, Group, Modal, Stack } from '@mantine/core';
import { useState, type ReactElement } from 'react';
import { selectOwnPending } from '../data/outbox/state.ts';
import { selectActing } from '../data/session.ts';
import { newPassword, signOut } from '../data/signing.ts';
import { useAppDispatch, useAppSelector } from '../data/store.ts';
import { CodeHere } from './CodeHere.tsx';
import { Fault, faultOf, LetInForm, Password } from './LetInForm.tsx';

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
        <Fault words={fault} />
        {!click && <NewPassword onDone={onClose} />}
        {acting && <CodeHere personId={acting.id} />}
      </Stack>
    </Modal>
  );
}

function NewPassword({ onDone }: { readonly onDone: () => void }): ReactElement {
  const dispatch = useAppDispatch();
  const [old, setOld] = useState('');
  const [fresh, setFresh] = useState('');
  return (
    <LetInForm
      go="Set it"
      ready={old !== '' && fresh.length >= 10}
      ask={() => dispatch(newPassword(old, fresh))}
      onIn={onDone}
    >
      <h2 className="zone-title">Another password</h2>
      <Password label="As it is now" value={old} onChange={setOld} />
      <Password
        label="As it shall be"
        description="Ten signs at least. You stay signed in here, and nowhere else."
        fresh
        value={fresh}
        onChange={setFresh}
      />
    </LetInForm>
  );
}
