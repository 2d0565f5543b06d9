import {
  awaitedSamples,
  SAMPLED_WATERS,
  sampleProblem,
  SOUGHT,
  soughtRow,
  uncleanSamples,
  uncleanWords,
  WATER_WORDS,
  type Finding,
  type NewFact,
  type Sample,
  type SampledWater,
  type Sought,
} from '@katharos/core';
import { Button, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import dayjs from 'dayjs';
import { memo, useState, type ReactElement } from 'react';
import { Choices } from '../ui/Choices.tsx';
import { useDraft } from '../ui/useDraft.ts';
import { useNow } from '../ui/useNow.ts';
import { TakeBack } from './TakeBack.tsx';
import { useJobFacts } from './useJob.ts';
import { dayOf } from './visitDay.ts';
import './taken-down.css';
import { GrowingText } from '../ui/GrowingText.tsx';

const about = (s: Pick<Sample, 'water' | 'sought'>): string =>
  `${soughtRow(s.sought).label} in the ${WATER_WORDS[s.water]}`;

/** What a laboratory found not clean, and whose answer has not come: in front of everything else. @param of of one water only */
export function OpenSamples({ of }: { readonly of?: SampledWater }): ReactElement {
  const { record } = useJobFacts();
  const shown = (all: readonly Sample[]): readonly Sample[] => all.filter((s) => of === undefined || s.water === of);
  return (
    <>
      {shown(uncleanSamples(record)).map((s) => (
        <Unclean key={s.id} of={s} />
      ))}
      {shown(awaitedSamples(record)).map((s) => (
        <Awaited key={s.id} of={s} />
      ))}
    </>
  );
}

function Unclean({ of: s }: { readonly of: Sample }): ReactElement {
  const { built } = useJobFacts();
  return (
    <section className="call" aria-label={`Not clean: ${about(s)}`}>
      <p className="headline">The laboratory found it not clean: {about(s)}.</p>
      <p className="small">
        Sampled {dayjs(s.atMs).format('D MMM YYYY')}. {s.answer?.words}
      </p>
      <ul className="plain-list">
        {uncleanWords(s, built?.system ?? null).map((w) => (
          <li key={w}>{w}</li>
        ))}
      </ul>
      <p className="small">
        It is closed by a later sample of the same that is clean.{' '}
        {s.answer && <TakeBack id={s.answer.id} what={`that it was not clean: ${about(s)}`} />}
      </p>
    </section>
  );
}

/** What follows of an answer beside itself: microbes of the raw water are a reading of the house. */
function readingOf(s: Sample, finding: Finding): NewFact[] {
  if (s.water !== 'raw' || s.sought !== 'microbes') return [];
  const value = finding === 'clean' ? 'clean' : 'unsafe';
  return [{ kind: 'reading', field: 'laboratory', value, typed: value, instrument: 'laboratory' }];
}

function Awaited({ of: s }: { readonly of: Sample }): ReactElement {
  const { id, add, record, personName } = useJobFacts();
  const [words, setWords] = useDraft(`${id}.answer.${s.id}`);
  const now = useNow(60_000);
  const late = s.dueMs < now;
  const own = record.sampled.some((f) => f.id === s.id);
  const came = (finding: Finding): void => {
    add({ kind: 'answered', sample: s.id, finding, words: words.trim() }, ...readingOf(s, finding));
    setWords('');
    notifications.show({ message: `The laboratory’s answer is written down: ${about(s)}.` });
  };
  return (
    <section className="sample" aria-label={`Awaited: ${about(s)}`}>
      <p>
        <b>{late ? `The laboratory has not answered on ${about(s)}: ask after it.` : `Waiting for the laboratory: ${about(s)}.`}</b> Sampled{' '}
        {dayjs(s.atMs).format('D MMM YYYY')} by {personName(s.by)}, expected by {dayjs(s.dueMs).format('D MMM')}. {s.words} {own && <TakeBack id={s.id} what={`the sample: ${about(s)}`} />}
      </p>
      <div className="sample-answer no-print">
        <GrowingText aria-label="What it found, with its figures" placeholder="What it found, with its figures" size="sm" maxLength={600} value={words} onChange={(e) => { setWords(e.currentTarget.value); }} />
        <Button size="sm" variant="default" onClick={() => { came('clean'); }}>
          Nothing above its limit
        </Button>
        <Button size="sm" variant="default" disabled={words.trim() === ''} title={words.trim() === '' ? 'Say what it found first' : undefined} onClick={() => { came('not-clean'); }}>
          Not clean
        </Button>
      </div>
    </section>
  );
} // oxfmt-ignore

/** A sample that goes to a laboratory, written down so that its answer is waited for. */
export const SampleForm = memo(function SampleForm({ water: usual }: { readonly water: SampledWater }): ReactElement {
  const { id, add } = useJobFacts();
  const [water, setWater] = useState<SampledWater>(usual);
  const [sought, setSought] = useState<Sought | null>(null);
  const [words, setWords] = useDraft(`${id}.sampled`);
  const now = useNow(60_000);
  const today = dayjs(now).format('YYYY-MM-DD');
  const [on, setOn] = useState('');
  const day = on === '' ? today : on;
  const at = day === today ? new Date(now).toISOString() : dayOf(day);
  const problem = sampleProblem(dayjs(day).isValid() ? Date.parse(at) : NaN, now);
  const save = (): void => {
    if (sought === null || problem !== null) return;
    add({ kind: 'sampled', water, sought, words: words.trim(), ...(day === today ? {} : { on: at }) });
    setWords('');
    setSought(null);
    setOn('');
    notifications.show({ message: 'The sample is written down; its answer is waited for.' });
  };
  return (
    <details className="call-form no-print">
      <summary>A sample goes to a laboratory</summary>
      <Choices of={SAMPLED_WATERS} value={water} words={(w) => WATER_WORDS[w]} onChoose={setWater} />
      <Choices of={SOUGHT} value={sought} words={(k) => soughtRow(k).label} onChoose={setSought} />
      {sought && <p className="small">{soughtRow(sought).take}</p>}
      <TextInput type="date" size="sm" label="Taken on" value={day} error={problem} onChange={(e) => { setOn(e.currentTarget.value); }} />
      <GrowingText label="Which laboratory, its number" size="sm" maxLength={300} value={words} onChange={(e) => { setWords(e.currentTarget.value); }} />
      <Button mt="sm" disabled={sought === null || problem !== null} onClick={save}>
        Write the sample down
      </Button>
    </details>
  );
}); // oxfmt-ignore
