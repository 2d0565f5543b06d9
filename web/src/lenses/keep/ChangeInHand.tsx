import { isDone, putInSoFar, type FactOf, type SystemView } from '@katharos/core';
import { Button } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useMemo, useState, type ReactElement } from 'react';
import { AskedDialog } from '../../job/sheet/AskedDialog.tsx';
import { Clocks } from '../../job/sheet/Clocks.tsx';
import { Current } from '../../job/sheet/Current.tsx';
import { StepList } from '../../job/sheet/StepList.tsx';
import { useInHand } from '../../job/sheet/useInHand.ts';
import { useGetStockQuery } from '../../data/api.ts';
import { TakeBack } from '../../job/TakeBack.tsx';
import { useJob } from '../../job/useJob.ts';
import { useDraft } from '../../ui/useDraft.ts';
import { AskCameOut } from './CameOut.tsx';
import { WhatGoesIn } from './WhatGoesIn.tsx';
import '../../job/sheet/runSheet.css';
import { GrowingText } from '../../ui/GrowingText.tsx';

/** A change somebody is at: its run sheet with its clocks, what goes in, and the visit that closes it. */
export function ChangeInHand({ change, view: whole }: { readonly change: FactOf<'change'>; readonly view: SystemView }): ReactElement {
  const [oneHand, setOneHand] = useState(false);
  const [held, setHeld] = useState<string>();
  // the sheet as it was made when it was begun
  const view = useMemo(() => ({ ...whole, sheet: change.sheet }), [whole, change]);
  const { now, schedule, ticking, take: setTaken, open } = useInHand(view);
  const step = open ?? schedule.next;
  const inHand = step?.key ?? null;
  return (
    <section aria-label="The change in hand" className="change-in-hand no-print">
      <h2 className="zone-title">In hand: {change.reason}</h2>
      <div className="two-zones flush">
        <div className="flush-list">
          <StepList view={view} schedule={schedule} ticking={ticking} inHand={inHand} onTake={setTaken} />
        </div>
        <div>
          <Clocks now={now} inHand={inHand} onTake={setTaken} />
          {step && (
            <Current
              key={step.key}
              view={view}
              step={step}
              schedule={schedule}
              ticking={ticking}
              now={now}
              oneHand={oneHand}
              onOneHand={setOneHand}
              beside={step.puts === undefined ? null : <WhatGoesIn step={step} visit={change.components} since={change.at} onHeld={setHeld} />}
              held={held}
            />
          )}
          <Close change={change} left={schedule.open.length} />
        </div>
        {ticking.asked && <AskedDialog asked={ticking.asked} onAnswer={ticking.answer} />}
      </div>
    </section>
  );
} // oxfmt-ignore

/** Closes the visit with what went in by now: what did not stays due. Where nothing did it may be given up. */
function Close({ change, left }: { readonly change: FactOf<'change'>; readonly left: number }): ReactElement {
  const { add, record, id, view, built } = useJob();
  const stock = useGetStockQuery(null).data;
  const [note, setNote] = useDraft(`${id}.change.note`);
  const changed = putInSoFar(change, (s) => isDone(record, s));
  const name = (c: string): string => view?.system.components.find((x) => x.id === c)?.slot ?? c;
  const close = (): void => {
    add({
      kind: 'visit',
      reason: change.reason,
      changed,
      change: change.id,
      ...(note.trim() === '' ? {} : { note: note.trim() }),
      // the visit that was planned is this one
      ...(change.planned === undefined ? {} : { corrects: change.planned }),
    });
    if (change.takesOut === true && left === 0) add({ kind: 'happened', event: 'taken-out', words: note.trim() });
    // what is counted in the van goes out of it
    const gone = changed.flatMap((c) => record.fitted[c]?.part.id ?? built?.system.components.find((x) => x.id === c)?.part?.id ?? []);
    const parts = [...new Set(gone)].filter((p) => stock?.levels.some((l) => l.part === p)).map((part) => ({ part, count: gone.filter((g) => g === part).length }));
    if (parts.length > 0) add({ kind: 'stock-out', from: 'van', change: change.id, parts });
    setNote('');
    notifications.show({ message: change.takesOut === true ? (left === 0 ? 'It is out.' : 'Closed: it stands as it was.') : `Closed: ${changed.length === 0 ? 'nothing' : changed.map(name).join(', ')} changed.` });
  };
  return (
    <div className="close-change">
      {left === 0 && <p className="headline">{change.takesOut === true ? 'All of it is done. Close it: nothing of it is due any more.' : 'All of it is done. Close the visit, and say when the next is due.'}</p>}
      {change.takesOut !== true && <AskCameOut change={change} changed={changed} />}
      <GrowingText
        label="What was found and done"
        size="sm"
        minRows={2}
        maxLength={2000}
        value={note}
        onChange={(e) => {
          setNote(e.currentTarget.value);
        }}
      />
      <div className="asked-acts">
        <Button size="md" variant={left === 0 ? 'filled' : 'default'} onClick={close}>
          {left === 0 ? 'Close this visit' : `Close it with ${String(left)} steps open`}
        </Button>
        {changed.length === 0 && <TakeBack id={change.id} what={`the change begun: ${change.reason}`} />}
      </div>
      {left > 0 && (
        <p className="small">
          {change.takesOut === true
            ? 'It counts as out once all of it is done.'
            : changed.length === 0
            ? 'Nothing is in yet: all of it stays due.'
            : `In so far: ${changed.map(name).join(', ')}. What is not in stays due.`}
        </p>
      )}
    </div>
  );
} // oxfmt-ignore
