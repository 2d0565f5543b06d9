import { formatMinutes, isDone, jointStep, tubesOf, type RunStep, type SystemView } from '@katharos/core';
import dayjs from 'dayjs';
import type { ReactElement } from 'react';
import { Link } from 'react-router';
import { api } from '../../data/api.ts';
import { useAppSelector } from '../../data/store.ts';
import { useJob } from '../useJob.ts';
import { useNow } from '../../ui/useNow.ts';

/** Something of this visit that is open while the water runs. */
interface Open {
  readonly what: string;
  readonly lens: string;
}

/** What of this job is open and wants no water: looked up, not guessed. */
function openWork(view: SystemView, job: ReturnType<typeof useJob>): Open[] {
  const { record } = job;
  const roles = [...new Set(tubesOf(view.system).map((t) => t.branch))].filter((b) => record.colours[b] === undefined);
  const unmade = view.joints.filter((j) => !isDone(record, jointStep(j.joint.id))).length;
  const unrun = view.holes.length > 0 && record.photos.length === 0;
  return [
    ...(unmade > 0 ? [{ what: `Tick the ${String(unmade)} joints that are made and not ticked.`, lens: 'plumb' }] : []),
    ...(roles.length > 0 ? [{ what: `Label the tubes and write their colours down: ${roles.join(', ')}.`, lens: 'plumb' }] : []),
    ...(unrun ? [{ what: 'Photograph the cupboard, the drain and the nameplates.', lens: 'plumb' }] : []),
    ...(record.proofs.length === 0
      ? [{ what: 'Prove’s first readings: feed TDS, temperature and pressure now; the drain once the tank is full.', lens: 'prove' }]
      : []),
    { what: 'Show the household how to shut it, and what to do on a leak.', lens: 'prove' },
  ];
} // oxfmt-ignore

/** A wait shorter than this is none for another visit, min. */
const LEAST_WAIT_MIN = 60;

/** Visits of today at other houses, as the round told them last; none where the clock leaves no time for one. */
function useOtherVisits(step: RunStep): { readonly jobId: string; readonly lens: string; readonly words: string }[] {
  const { id, record } = useJob();
  const now = useNow(60_000);
  const round = useAppSelector((s) => api.endpoints.getRounds.select('')(s).data);
  const timer = record.timers[step.key];
  const left = timer ? (Date.parse(timer.dueAt) - now) / 60_000 : step.minutes;
  if (left < LEAST_WAIT_MIN) return [];
  return (round?.visits ?? [])
    .filter((e) => e.jobId !== id)
    .flatMap((e) =>
      e.summary.visits
        .filter((v) => dayjs(v.on).isSame(dayjs(now), 'day'))
        .map((v) => ({
          jobId: e.jobId,
          lens: e.summary.lens,
          words: `${v.reason} at ${e.household.name}, ${e.household.place}: ${formatMinutes(left)} are left here, the way there and back included.`,
        })),
    );
}

/** What can be done while a clock runs. */
export function Meanwhile({ view, step }: { readonly view: SystemView; readonly step: RunStep }): ReactElement {
  const job = useJob();
  const visits = useOtherVisits(step);
  return (
    <section aria-label="Meanwhile" className="meanwhile">
      <h2 className="zone-title">Meanwhile</h2>
      <ul>
        {openWork(view, job).map((o) => (
          <li key={o.what}>
            <Link to={`/jobs/${job.id}/${o.lens}`}>{o.what}</Link>
          </li>
        ))}
        {visits.map((v) => (
          <li key={`${v.jobId}${v.words}`}>
            <Link to={`/jobs/${v.jobId}/${v.lens}`}>{v.words}</Link>
          </li>
        ))}
        {step.meanwhile !== undefined && step.meanwhile !== '' && <li>{step.meanwhile}</li>}
      </ul>
    </section>
  );
}
