import {
  jointGroups,
  lookRound,
  type JointSheet,
  type LookRound as RoundOf,
  type RunStep,
  type SystemView,
} from '@katharos/core';
import { Button, Modal } from '@mantine/core';
import { useState, type ReactElement } from 'react';
import { jointChosen } from '../../data/session.ts';
import { useAppDispatch, useAppSelector } from '../../data/store.ts';
import { JointsDrawing } from '../layout/LayoutDrawing.tsx';
import { Photographs } from '../Photographs.tsx';
import { useJob } from '../useJob.ts';
import { useDraft } from '../../ui/useDraft.ts';
import '../joints.css';
import { GrowingText } from '../../ui/GrowingText.tsx';

type Round = RoundOf<JointSheet>;

/** A joint by its number and place: "Joint 7, carbon 1, inlet". */
const called = (j: JointSheet): string => `Joint ${String(j.joint.number)}, ${j.where}`;

const stateIn = (round: Round, id: string): 'open' | 'dry' | 'drip' =>
  round.drips.some((d) => d.sheet.joint.id === id) ? 'drip' : round.dry.has(id) ? 'dry' : 'open';

const STATE_WORDS = { open: 'not looked at', dry: 'dry', drip: 'drips' } as const;

/** A round of looks: joints by the way they are made, each told dry or dripping, on the drawing and by name. */
export function LookRound({ view, step }: { readonly view: SystemView; readonly step: RunStep }): ReactElement {
  const { record, add } = useJob();
  const dispatch = useAppDispatch();
  const inHand = useAppSelector((s) => s.session.joint);
  const round = lookRound(step, view.joints, record);
  const asked = round.joints.find((j) => j.joint.id === inHand);
  const choose = (id: string): void => {
    dispatch(jointChosen(id));
  };
  return (
    <section aria-label="Joints of this round" className="look-round">
      {round.drips.map(({ sheet, look }) => (
        <p key={sheet.joint.id} className="caution">
          {called(sheet)}, drips{look.note ? `: ${look.note.trim().replace(/\.$/, '')}` : ''}. Shut, release, re-cut or
          re-seat; then look again.{' '}
          <Button
            size="compact-md"
            variant="default"
            onClick={() => {
              choose(sheet.joint.id);
            }}
          >
            Looked at again
          </Button>
        </p>
      ))}
      <JointsDrawing
        marks={round.joints.map((j) => {
          const state = stateIn(round, j.joint.id);
          return { id: j.joint.id, state, label: `${called(j)} on the drawing: ${STATE_WORDS[state]}` };
        })}
        chosen={inHand}
        onChoose={choose}
      />
      {jointGroups(round.joints).map((g) => {
        const left = g.joints.filter((j) => stateIn(round, j.joint.id) === 'open');
        return (
          <div key={g.key} className="look-group">
            <p>
              <b>{g.title}</b> <span className="small">{g.look}</span>
            </p>
            <ul className="joint-ticks">
              {g.joints.map((j) => {
                const state = stateIn(round, j.joint.id);
                return (
                  <li key={j.joint.id}>
                    <button
                      type="button"
                      data-look={state}
                      aria-pressed={state === 'dry'}
                      aria-label={`${called(j)}: ${STATE_WORDS[state]}`}
                      onClick={() => {
                        choose(j.joint.id);
                      }}
                    >
                      <b>{j.joint.number}</b>
                      <span>{state === 'drip' ? 'drips' : j.where}</span>
                    </button>
                  </li>
                );
              })}
            </ul>
            {left.length > 0 && left.length < round.joints.length && (
              <Button
                size="xs"
                variant="default"
                onClick={() => {
                  add(...left.map((j) => looked(step.key, j, 'dry', '')));
                }}
              >
                {left.length === g.joints.length ? 'All of these are dry' : 'The others of these are dry'}
              </Button>
            )}
          </div>
        );
      })}
      {asked && <JointAsked key={asked.joint.id} step={step} sheet={asked} state={stateIn(round, asked.joint.id)} />}
    </section>
  );
}

/** A look as it is written down. */
export const looked = (round: string, { joint }: JointSheet, result: 'dry' | 'drip', note: string) => ({
  kind: 'look' as const,
  round,
  joint: joint.id,
  result,
  ...(note === '' ? {} : { note }),
});

/** One joint in hand: how it is, what was seen and done, a picture of it. */
function JointAsked({
  step,
  sheet,
  state,
}: {
  readonly step: RunStep;
  readonly sheet: JointSheet;
  readonly state: 'open' | 'dry' | 'drip';
}): ReactElement {
  const { add, id, record } = useJob();
  const dispatch = useAppDispatch();
  const before = record.looks[step.key]?.[sheet.joint.id]?.note ?? '';
  const [kept, setNote] = useDraft(`${id}.look.${sheet.joint.id}`);
  const [touched, setTouched] = useState(kept !== '');
  const note = touched ? kept : state === 'drip' ? before : '';
  const close = (): void => {
    dispatch(jointChosen(null));
  };
  const write = (result: 'dry' | 'drip'): void => {
    add(looked(step.key, sheet, result, note.trim()));
    setNote('');
    close();
  };
  return (
    <Modal opened onClose={close} title={called(sheet)}>
      <p>{sheet.look}</p>
      {state !== 'dry' && (
        <p className="caution">If it drips: shut the feed, open the tap until the pressure is gone, then touch it.</p>
      )}
      <GrowingText
        label="What was seen, what was done"
        value={note}
        minRows={2}
        maxLength={2000}
        onChange={(e) => {
          setTouched(true);
          setNote(e.currentTarget.value);
        }}
      />
      <Photographs about={sheet.joint.id} what={`joint ${String(sheet.joint.number)}`} />
      <div className="asked-acts">
        <Button
          size="lg"
          onClick={() => {
            write('dry');
          }}
        >
          {state === 'drip' ? 'Dry now' : 'It is dry'}
        </Button>
        <Button
          size="lg"
          variant="default"
          onClick={() => {
            write('drip');
          }}
        >
          {state === 'drip' ? 'It still drips' : 'It drips'}
        </Button>
      </div>
    </Modal>
  );
}
