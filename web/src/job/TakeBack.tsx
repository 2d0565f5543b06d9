import { Button, Modal, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useState, type ReactElement } from 'react';
import { useJob } from './useJob.ts';

/** Takes something recorded back, with a reason: it stays in the record as taken back, and counts no more. */
export function TakeBack({ id, what }: { id: string; what: string }): ReactElement {
  const { add } = useJob();
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState('');
  const close = (): void => {
    setOpen(false);
    setReason('');
  };
  return (
    <>
      <Button
        className="no-print"
        size="compact-xs"
        variant="subtle"
        aria-label={`Take ${what} back`}
        onClick={() => {
          setOpen(true);
        }}
      >
        Take back
      </Button>
      {open && (
        <Modal opened onClose={close} title={`Take ${what} back`}>
          <form
            onSubmit={(e) => {
              e.preventDefault();
              add({ kind: 'taken-back', corrects: id, reason: reason.trim() });
              notifications.show({ message: 'Taken back. The record keeps that it was.' });
              close();
            }}
          >
            <TextInput
              label="Why"
              value={reason}
              maxLength={300}
              data-autofocus
              onChange={(e) => {
                setReason(e.currentTarget.value);
              }}
            />
            <Button type="submit" mt="md" disabled={reason.trim() === ''}>
              Take it back
            </Button>
          </form>
        </Modal>
      )}
    </>
  );
}
