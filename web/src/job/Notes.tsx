import { Button } from '@mantine/core';
import dayjs from 'dayjs';
import type { ReactElement } from 'react';
import { useDraft } from '../ui/useDraft.ts';
import { TakeBack } from './TakeBack.tsx';
import { useJob } from './useJob.ts';
import { GrowingText } from '../ui/GrowingText.tsx';

/** What somebody wrote down about a thing, and a way to write more. @param about a component's id, or a word for the place */
export function Notes({ about, what }: { about: string; what: string }): ReactElement {
  const { id, record, add, personName } = useJob();
  const [draft, setDraft] = useDraft(`${id}.note.${about}`);
  const mine = record.notes.filter((n) => n.about === about);
  return (
    <form
      className="notes"
      onSubmit={(e) => {
        e.preventDefault();
        if (draft.trim() === '') return;
        add({ kind: 'note', about, text: draft.trim() });
        setDraft('');
      }}
    >
      {mine.map((n) => (
        <p key={n.id} className="small">
          {n.text} <small>{personName(n.by)}, {dayjs(n.at).format('D MMM YYYY')}</small> <TakeBack id={n.id} what="this note" />
        </p>
      ))}
      <GrowingText
        className="no-print"
        size="xs"
        aria-label={`Note on ${what}`}
        placeholder={`note on ${what}`}
        value={draft}
        maxLength={2000}
        onChange={(e) => {
          setDraft(e.currentTarget.value);
        }}
      />
      {draft.trim() !== '' && (
        <Button type="submit" size="xs" variant="default" mt={4}>
          Write it down
        </Button>
      )}
    </form>
  );
} // oxfmt-ignore
