import type { FactOf } from '@katharos/core';
import { FileButton, Button, Modal } from '@mantine/core';
import { IconCamera } from '../ui/icons.ts';
import dayjs from 'dayjs';
import { useRef, useState, type ReactElement } from 'react';
import { keepPicture, pictureAddress, shrink } from '../data/pictures.ts';
import { selectMay } from '../data/session.ts';
import { useAppDispatch, useAppSelector } from '../data/store.ts';
import { TakeBack } from './TakeBack.tsx';
import { useJob } from './useJob.ts';
import './photographs.css';

/**
 * Photographs of one thing, with a way to add more: taken with the phone's camera or chosen, shrunk and stripped of their
 * place on this device, kept here until the server has them.
 * @param about a fact's or a component's id; left out, the place as a whole
 */
export function Photographs({ about, what }: { about?: string; what: string }): ReactElement {
  const { id, record, add, personName } = useJob();
  const dispatch = useAppDispatch();
  const personId = useAppSelector((s) => s.session.personId);
  const mayWrite = useAppSelector((s) => selectMay(s, 'PUT /jobs/:id/pictures/:picture'));
  // drawn anew once a picture has reached the server
  useAppSelector((s) => s.pictures.waiting);
  const [fault, setFault] = useState<string | null>(null);
  const [large, setLarge] = useState<FactOf<'photo'> | null>(null);
  const mine = record.photos.filter((p) => p.about === about);
  const reset = useRef<() => void>(null);
  const take = async (files: readonly File[]): Promise<void> => {
    // the same one may be chosen again
    reset.current?.();
    setFault(null);
    for (const file of files) {
      if (personId === null) return;
      try {
        const picture = { id: crypto.randomUUID(), jobId: id, by: personId };
        const blob = await shrink(file);
        add({ kind: 'photo', file: picture.id, ...(about === undefined ? {} : { about }) });
        await dispatch(keepPicture(picture, blob));
      } catch {
        setFault(`${file.name} could not be kept: it is no picture this browser reads, or there is no room for it.`);
      }
    }
  };
  return (
    <div className="photographs">
      {mine.map((p) => (
        <button
          key={p.id}
          type="button"
          className="photograph"
          onClick={() => {
            setLarge(p);
          }}
        >
          <img src={pictureAddress(id, p.file)} alt={`${what}, ${dayjs(p.at).format('D MMM YYYY')}`} loading="lazy" />
        </button>
      ))}
      {mayWrite && (
        <FileButton accept="image/*" multiple resetRef={reset} onChange={(files) => void take(files)}>
          {(props) => (
            <Button
              {...props}
              className="no-print"
              size="compact-xs"
              variant="subtle"
              leftSection={<IconCamera size={14} />}
              aria-label={`Add a photograph of ${what}`}
            >
              Photograph
            </Button>
          )}
        </FileButton>
      )}
      {fault !== null && (
        <p role="alert" className="small">
          {fault}
        </p>
      )}
      {large && (
        <Modal
          opened
          size="xl"
          onClose={() => {
            setLarge(null);
          }}
          title={`${what}, ${dayjs(large.at).format('D MMMM YYYY')}, ${personName(large.by)}`}
        >
          <img className="photograph-large" src={pictureAddress(id, large.file)} alt={what} />
          <TakeBack id={large.id} what="this photograph" />
        </Modal>
      )}
    </div>
  );
}
