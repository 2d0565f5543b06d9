import type { SystemView } from '@katharos/core';
import { useState, type ReactElement } from 'react';
import { HouseholdSheet } from '../../job/HouseholdSheet.tsx';
import { NeedsDesign } from '../../job/NeedsDesign.tsx';
import { useJob } from '../../job/useJob.ts';
import { AskedDialog } from '../../job/sheet/AskedDialog.tsx';
import { Clocks, Heard } from '../../job/sheet/Clocks.tsx';
import { Current } from '../../job/sheet/Current.tsx';
import { Drinking, Overnight } from './Drinking.tsx';
import { LaterLooks, laterLook } from './LaterLooks.tsx';
import { StepList } from '../../job/sheet/StepList.tsx';
import { WorkBefore } from './WorkBefore.tsx';
import { useInHand } from '../../job/sheet/useInHand.ts';
import '../../job/sheet/runSheet.css';

/** Wet it in the right order: the next thing in large type, clocks that survive, the rest of the day beside it. */
export default function Flush(): ReactElement {
  const { view, approved } = useJob();
  if (!view || !approved) return <NeedsDesign what="Flush" />;
  return <Sheet view={view} />;
}

function Sheet({ view }: { readonly view: SystemView }): ReactElement {
  const { record } = useJob();
  const [oneHand, setOneHand] = useState(false);
  const { now, schedule, ticking, taken, take: setTaken, open } = useInHand(view);
  const step = open ?? laterLook(taken, record) ?? schedule.next;
  const inHand = step?.key ?? null;
  return (
    <>
      <HouseholdSheet view={view} />
      <div className="two-zones flush">
        <div className="flush-list">
          <StepList view={view} schedule={schedule} ticking={ticking} inHand={inHand} onTake={setTaken} />
          <WorkBefore />
        </div>
        <div>
          <Clocks now={now} inHand={inHand} onTake={setTaken} />
          {step ? (
            <Current
              key={step.key}
              view={view}
              step={step}
              schedule={schedule}
              ticking={ticking}
              now={now}
              oneHand={oneHand}
              onOneHand={setOneHand}
            />
          ) : (
            <AllDone view={view} onTake={setTaken} />
          )}
          <Heard schedule={schedule} />
          <Overnight view={view} schedule={schedule} now={now} />
          <Drinking now={now} />
        </div>
        {ticking.asked && <AskedDialog asked={ticking.asked} onAnswer={ticking.answer} />}
      </div>
    </>
  );
}

const AllDone = ({
  view,
  onTake,
}: {
  readonly view: SystemView;
  readonly onTake: (key: string) => void;
}): ReactElement => (
  <>
    <p className="headline">
      {view.sheet.length === 0 ? 'This version changes no part: nothing to flush.' : 'Flushed and wet. Prove it next.'}
    </p>
    <p>The baseline is read again after the first days’ use.</p>
    <LaterLooks view={view} onTake={onTake} />
  </>
);
