import { scheduleOf, type RunStep, type Schedule, type SystemView } from '@katharos/core';
import { useMemo, useState } from 'react';
import { forgetDraft } from '../../ui/useDraft.ts';
import { useNow } from '../../ui/useNow.ts';
import { useJob } from '../useJob.ts';
import { useTicking, type Ticking } from './useTicking.ts';

/** A run sheet as somebody works it through. */
export interface InHand {
  readonly now: number;
  readonly schedule: Schedule;
  readonly ticking: Ticking;
  /** what somebody took in hand; null leaves it to what comes next */
  readonly taken: string | null;
  readonly take: (key: string | null) => void;
  /** what was taken in hand, as long as it is open */
  readonly open: RunStep | undefined;
}

/** Works a view's run sheet through: its schedule, its ticks, what is in hand. A step ticked forgets what was typed for it. */
export function useInHand(view: SystemView): InHand {
  const { record, id } = useJob();
  const now = useNow(1000);
  const [taken, take] = useState<string | null>(null);
  const schedule = useMemo(() => scheduleOf(view.sheet, record, now), [view.sheet, record, now]);
  const ticking = useTicking(view, record, (done) => {
    take(null);
    for (const kind of ['note', 'read']) forgetDraft(`${id}.${kind}.${done.key}`);
  });
  const isOpen = schedule.open.some((o) => o.key === taken);
  return { now, schedule, ticking, taken, take, open: isOpen ? view.sheet.find((s) => s.key === taken) : undefined };
}
