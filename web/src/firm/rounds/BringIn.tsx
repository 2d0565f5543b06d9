import { ImportJobSchema } from '@katharos/contract';
import { Button, FileButton } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconUpload } from '../../ui/icons.ts';
import { useRef, useState, type ReactElement } from 'react';
import { useNavigate } from 'react-router';
import { useImportJobMutation } from '../../data/api.ts';
import { errorWords } from '../../data/errors.ts';
import { selectMay } from '../../data/session.ts';
import { useAppSelector } from '../../data/store.ts';

/** A job file as it is sent; or what is wrong with it, at its place. */
async function jobFileOf(file: File): Promise<{ file: unknown } | { fault: string }> {
  let json: unknown;
  try {
    json = JSON.parse(await file.text());
  } catch {
    return { fault: `${file.name} is not a job file: it does not read as JSON.` };
  }
  const parsed = ImportJobSchema.safeParse({ file: json });
  if (parsed.success) return { file: json };
  const issue = parsed.error.issues[0];
  const at = issue?.path.slice(1).join('.') ?? '';
  return { fault: `${file.name}${at === '' ? '' : `, at ${at}`}: ${issue?.message ?? 'not a job file'}.` };
}

/** Takes a job in from its file; what is wrong with the file is told at its place. */
export function BringIn(): ReactElement {
  const mayBring = useAppSelector((s) => selectMay(s, 'POST /jobs/import'));
  const [bring, { isLoading }] = useImportJobMutation();
  const [fault, setFault] = useState<string | null>(null);
  const reset = useRef<() => void>(null);
  const go = useNavigate();
  const take = async (file: File | null): Promise<void> => {
    if (!file) return;
    // the same file may be chosen again once it is put right
    reset.current?.();
    setFault(null);
    const read = await jobFileOf(file);
    if ('fault' in read) {
      setFault(read.fault);
      return;
    }
    try {
      const { jobId } = await bring(read).unwrap();
      notifications.show({ message: 'The job is in.' });
      await go(`/jobs/${jobId}`);
    } catch (e) {
      setFault(errorWords(e));
    }
  };
  return (
    <>
      <FileButton accept="application/json,.json" resetRef={reset} onChange={(f) => void take(f)}>
        {(props) => (
          <Button
            {...props}
            variant="default"
            leftSection={<IconUpload size={16} />}
            loading={isLoading}
            disabled={!mayBring}
          >
            Bring in a job file
          </Button>
        )}
      </FileButton>
      {fault !== null && (
        <p role="alert" className="caution bring-fault">
          {fault}
        </p>
      )}
    </>
  );
}
