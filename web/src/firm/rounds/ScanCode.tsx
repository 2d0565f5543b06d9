import { Button, FileButton } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconQrcode } from '../../ui/icons.ts';
import { useRef, useState, type ReactElement } from 'react';
import { useNavigate } from 'react-router';
import { codeOn, jobInCode } from './scan.ts';

/** Opens a job by the code on the household's sheet: photographed, or chosen as a picture. */
export function ScanCode(): ReactElement {
  const navigate = useNavigate();
  const [busy, setBusy] = useState(false);
  const reset = useRef<() => void>(null);
  const look = async (picture: File | null): Promise<void> => {
    if (!picture) return;
    setBusy(true);
    const text = await codeOn(picture).catch(() => undefined);
    setBusy(false);
    reset.current?.();
    const job = text === null || text === undefined ? null : jobInCode(text);
    if (job !== null) {
      void navigate(`/jobs/${job}/keep`);
      return;
    }
    notifications.show({
      color: 'red',
      message:
        text === undefined
          ? 'That is no picture this device reads.'
          : text === null
            ? 'No code is to be seen on it: nearer, flat, without glare. Or find the household by name.'
            : 'That code is of something else, not of a household’s sheet.',
    });
  };
  return (
    <FileButton accept="image/*" capture="environment" resetRef={reset} onChange={(f) => void look(f)}>
      {(props) => (
        <Button {...props} variant="default" loading={busy} leftSection={<IconQrcode size={16} />}>
          Scan a household’s code
        </Button>
      )}
    </FileButton>
  );
}
