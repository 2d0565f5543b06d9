import { LENSES } from '@katharos/core';
import { Loader } from '@mantine/core';
import { lazy, Suspense, useEffect, useState, type ReactElement } from 'react';
import { createPortal } from 'react-dom';
import { NavLink, useNavigate, useParams } from 'react-router';
import { LineDrawing } from '../line/LineDrawing.tsx';
import { LineSpine } from '../line/LineSpine.tsx';
import { SKELETON } from '../line/skeleton.ts';
import { ElementCard } from '../line/ElementCard.tsx';
import { elementChosen } from '../store/session.ts';
import { LENS_NAMES } from '../ui/lensNames.ts';
import { usePhone } from '../ui/usePhone.ts';
import { isTyping } from '../ui/isTyping.ts';
import { HouseholdDialog } from '../rounds/HouseholdDialog.tsx';
import { NoSuchPage } from '../ui/Boundary.tsx';
import { errorWords, problemOf } from './errors.ts';
import { lensMarks, lensStates } from './lensStates.ts';
import { useAppDispatch, useAppSelector } from './store.ts';
import { useWorking } from '../worker/useCore.ts';
import { JobContext, useJobData } from './useJob.ts';

const SHEETS = {
  gauge: lazy(() => import('../lenses/gauge/Gauge.tsx')),
  size: lazy(() => import('../lenses/size/Size.tsx')),
  plumb: lazy(() => import('../lenses/plumb/Plumb.tsx')),
  flush: lazy(() => import('../lenses/flush/Flush.tsx')),
  prove: lazy(() => import('../lenses/prove/Prove.tsx')),
  keep: lazy(() => import('../lenses/keep/Keep.tsx')),
} as const;

/** One job: the Line on top, the six lenses along its lower edge, the sheet of one under it. */
export function JobPage(): ReactElement {
  const { id = '', lens = '' } = useParams();
  const navigate = useNavigate();
  const dispatch = useAppDispatch();
  const chosen = useAppSelector((s) => s.session.chosen);
  const { job, error, loading } = useJobData(id);
  const phone = usePhone();
  const [editing, setEditing] = useState(false);
  const working = useWorking();
  useEffect(() => {
    dispatch(elementChosen(null));
  }, [dispatch, id]);
  useEffect(() => {
    const onKey = (e: KeyboardEvent): void => {
      if (isTyping(e)) return;
      const to = LENSES[Number(e.key) - 1];
      if (to) void navigate(`/jobs/${id}/${to}`);
      if (e.key === 'Escape') dispatch(elementChosen(null));
    };
    window.addEventListener('keydown', onKey);
    return () => {
      window.removeEventListener('keydown', onKey);
    };
  }, [dispatch, id, navigate]);
  const title = job?.household.name;
  useEffect(() => {
    document.title = title ? `${title} – Katharos` : 'Katharos';
    return () => {
      document.title = 'Katharos';
    };
  }, [title]);

  const current = LENSES.find((l) => l === lens);
  if (!current || problemOf(error)?.status === 404) return <NoSuchPage />;
  if (error !== undefined)
    return (
      <main className="plain-page" role="alert">
        <h1>This job is not here yet</h1>
        <p>{errorWords(error)}</p>
      </main>
    );
  if (!job || loading)
    return (
      <main className="plain-page">
        <Loader aria-label="Reading the job" />
      </main>
    );
  const Sheet = SHEETS[current];
  const line = job.view?.line ?? SKELETON;
  const profile = job.view
    ? current === 'size' || current === 'gauge'
      ? job.view.profileWorst
      : job.view.profileToday
    : null;
  const { marks, wet } = lensMarks(current, job);
  const states = lensStates(job);
  const props = {
    line,
    profile,
    marks,
    chosen,
    proposed: !job.approved,
    onChoose: (e: string | null) => {
      dispatch(elementChosen(e));
    },
  };
  const strip = document.getElementById('strip-job');
  return (
    <JobContext value={job}>
      {strip &&
        createPortal(
          <button
            type="button"
            className="strip-household"
            onClick={() => {
              setEditing(true);
            }}
            aria-label={`${job.household.name}, edit the household`}
          >
            <b>{job.household.name}</b>
            <span>{job.household.place}</span>
          </button>,
          strip,
        )}
      <HouseholdDialog
        key={`${job.household.id}-${String(editing)}`}
        opened={editing}
        household={job.household}
        onClose={() => {
          setEditing(false);
        }}
      />
      <div className="job" data-phone={phone}>
        {!phone && <LineDrawing {...props} />}
        <nav className="stations" aria-label="Parts of the job">
          {LENSES.map((l, i) => (
            <NavLink key={l} to={`/jobs/${id}/${l}`} className="station">
              <span className="station-key" aria-hidden="true">
                {i + 1}
              </span>
              <span className="station-name">{LENS_NAMES[l]}</span>
              <span className="station-state">{states[l]}</span>
            </NavLink>
          ))}
        </nav>
        <div className="job-body">
          {phone && <LineSpine {...props} wet={wet} />}
          <main className="sheet" data-lens={current} aria-busy={working}>
            <h1 className="visually-hidden">
              {LENS_NAMES[current]}, {job.household.name}
            </h1>
            {chosen !== null && <ElementCard line={line} profile={profile} elementId={chosen} />}
            <Suspense fallback={<Loader aria-label="Opening the sheet" m="md" />}>
              <Sheet />
            </Suspense>
          </main>
        </div>
      </div>
    </JobContext>
  );
}
