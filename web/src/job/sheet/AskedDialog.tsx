import { formatMinutes, type RunStep } from '@katharos/core';
import { Button, Modal } from '@mantine/core';
import { useState, type ReactElement } from 'react';
import type { Question } from './useTicking.ts';
import { GrowingText } from '../../ui/GrowingText.tsx';

/** What people say of a wait they tick before its clock is over. */
const HAD_ITS_TIME = 'It had its time; the clock was not started then.';

/** Asks what was seen before a step is ticked over others, or before its time. */
export function AskedDialog({
  asked,
  onAnswer,
}: {
  readonly asked: Question;
  readonly onAnswer: (seen: string | null) => void;
}): ReactElement {
  const [seen, setSeen] = useState('');
  const { step, skips, earlyMin, barred } = asked;
  const close = (): void => {
    onAnswer(null);
  };
  if (barred)
    return (
      <Modal opened onClose={close} title={step.title}>
        {skips.length === 0 ? (
          <p>A joint still drips. It is looked at again before this round closes.</p>
        ) : (
          <>
            <p>This waits: what is read before it decides whether it may be done at all.</p>
            <Skips skips={skips} />
          </>
        )}
        <Button mt="md" size="md" onClick={close}>
          Back to the sheet
        </Button>
      </Modal>
    );
  return (
    <Modal opened onClose={close} title={step.title}>
      {skips.length > 0 && (
        <>
          <p>This comes before it and is still open. It stays open, and the time they may drink counts it.</p>
          <Skips skips={skips} />
        </>
      )}
      {earlyMin !== null && (
        <p>
          {skips.length > 0 ? 'And it' : 'It'} has {formatMinutes(earlyMin)} to go by its clock.
        </p>
      )}
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (seen.trim() !== '') onAnswer(seen.trim());
        }}
      >
        <GrowingText
          label="What was seen"
          minRows={2}
          maxLength={1000}
          data-autofocus
          value={seen}
          onChange={(e) => {
            setSeen(e.currentTarget.value);
          }}
        />
        <div className="asked-acts">
          <Button type="submit" size="md" disabled={seen.trim() === ''}>
            Tick it all the same
          </Button>
          {earlyMin !== null && (
            <Button
              size="md"
              variant="default"
              onClick={() => {
                onAnswer(HAD_ITS_TIME);
              }}
            >
              It had its time
            </Button>
          )}
          <Button size="md" variant="default" onClick={close}>
            Not yet
          </Button>
        </div>
      </form>
    </Modal>
  );
}

/** Steps that are open before the one in hand. */
const Skips = ({ skips }: { skips: readonly RunStep[] }): ReactElement => (
  <ul className="skips" aria-label="Open before it">
    {skips.map((s) => (
      <li key={s.key}>{s.title}</li>
    ))}
  </ul>
);
