import { LENSES, type Lens, type Profile } from '@katharos/core';
import { Loader } from '@mantine/core';
import {
  memo,
  useCallback,
  useEffect,
  useMemo,
  useState,
  useSyncExternalStore,
  type ComponentProps,
  type ReactElement,
} from 'react';
import { createPortal } from 'react-dom';
import { NavLink, useNavigate, useParams } from 'react-router';
import { Dial } from '../ui/Dial.tsx';
import { LineDrawing } from '../line/LineDrawing.tsx';
import { LineSpine } from '../line/LineSpine.tsx';
import { SKELETON } from '../line/skeleton.ts';
import { ElementCard } from '../line/ElementCard.tsx';
import { elementChosen, selectMay } from '../data/session.ts';
import { LENS_NAMES } from '../ui/lensNames.ts';
import { usePhone } from '../ui/usePhone.ts';
import { isTyping } from '../ui/isTyping.ts';
import { jobPath } from '../data/kept/store.ts';
import { AsKept } from '../job/AsKept.tsx';
import { NoSuchPage } from '../ui/Boundary.tsx';
import { errorWords, problemOf } from '../data/errors.ts';
import type HouseholdDialog from '../firm/rounds/HouseholdDialog.tsx';
import { HOUSEHOLD } from '../boot/rounds.ts';
import { SHEETS } from '../boot/sheets.ts';
import { useFetchTheRest } from '../boot/useFetchTheRest.ts';
import { useLazyPart } from '../data/useLazyPart.ts';
import { lensMarks, lensStates } from '../job/lensStates.ts';
import { useAppDispatch, useAppSelector } from '../data/store.ts';
import { useWorking } from '../data/useCore.ts';
import { Alarm } from '../job/Alarm.tsx';
import { JobProvider } from '../job/JobProvider.tsx';
import { Unreadables } from '../job/Unreadables.tsx';
import { useJob, useJobData, useJobFacts, type JobContext } from '../job/useJob.ts';

/** What is asked of the household, once its script has come. */
function EditHousehold(props: ComponentProps<typeof HouseholdDialog>): ReactElement | null {
  const { Part, fault } = useLazyPart(HOUSEHOLD);
  if (fault) throw fault;
  return Part && <Part {...props} />;
}

const stripOfJob = (): HTMLElement | null => document.getElementById('strip-job');
const never = (): (() => void) => () => undefined;

/** One job: the Line on top, the six lenses along its lower edge, the sheet of one under it. */
export function JobPage(): ReactElement {
  const { id = '', lens = '' } = useParams();
  const navigate = useNavigate();
  const dispatch = useAppDispatch();
  const { job, facts, error, loading } = useJobData(id);
  const phone = usePhone();
  const [editing, setEditing] = useState(false);
  // it may come into the document with this page: it is looked for again once that is done
  const strip = useSyncExternalStore(never, stripOfJob);
  useEffect(() => {
    dispatch(elementChosen(null));
  }, [dispatch, id]);
  useEffect(() => {
    const onKey = (e: KeyboardEvent): void => {
      if (isTyping(e)) return;
      const to = LENSES[Number(e.key) - 1];
      if (to) {
        // the hand stays in the page: what it was in may go with the sheet that is left
        document.querySelector<HTMLElement>(`.stations a[href$="/${to}"]`)?.focus({ preventScroll: true });
        void navigate(`/jobs/${id}/${to}`);
      }
      if (e.key === 'Escape') dispatch(elementChosen(null));
    };
    window.addEventListener('keydown', onKey);
    return () => {
      window.removeEventListener('keydown', onKey);
    };
  }, [dispatch, id, navigate]);
  useFetchTheRest(job?.decision.value !== undefined);
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
  if (!job || !facts || loading)
    return (
      <main className="plain-page">
        <Loader aria-label="Reading the job" />
      </main>
    );
  return (
    <JobProvider job={job} facts={facts}>
      {strip &&
        createPortal(
          <>
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
            </button>
            <Dial bare phone={job.household.phone} who={job.household.name} />
          </>,
          strip,
        )}
      {editing && (
        <EditHousehold
          of={{ household: job.household, jobId: job.id }}
          onClose={() => {
            setEditing(false);
          }}
        />
      )}
      <div className="job" data-phone={phone}>
        {!phone && <JobLine lens={current} as="band" />}
        <Stations />
        <Alarm lens={current} />
        <AsKept path={jobPath(id)} what="This job" also="What you write is kept here and sent later." />
        <Unreadables />
        <div className="job-body">
          {phone && <JobLine lens={current} as="spine" />}
          <JobSheet lens={current} />
        </div>
      </div>
    </JobProvider>
  );
}

/** The Line as the lens at hand marks it. */
const JobLine = memo(function JobLine({ lens, as }: { lens: Lens; as: 'band' | 'spine' }): ReactElement {
  const job = useJob();
  const dispatch = useAppDispatch();
  const chosen = useAppSelector((s) => s.session.chosen);
  const { marks, wet } = useMemo(() => lensMarks(lens, job), [lens, job]);
  const onChoose = useCallback(
    (e: string | null) => {
      dispatch(elementChosen(e));
    },
    [dispatch],
  );
  const props = {
    line: job.view?.system ?? SKELETON,
    profile: profileOf(job, lens),
    marks,
    chosen,
    proposed: !job.approved,
    onChoose,
  };
  return as === 'spine' ? <LineSpine {...props} wet={wet} /> : <LineDrawing {...props} />;
});

/** The moment a lens looks at: the worst hour while it is decided, else today. */
function profileOf(job: JobContext, lens: Lens): Profile | null {
  if (!job.view) return null;
  return lens === 'size' || lens === 'gauge' ? job.view.profileWorst : job.view.profileToday;
}

const Stations = memo(function Stations(): ReactElement {
  const job = useJob();
  const states = useMemo(() => lensStates(job), [job]);
  return (
    <nav className="stations" aria-label="Parts of the job">
      {LENSES.map((l, i) => (
        <Station key={l} id={job.id} lens={l} number={i + 1} state={states[l]} />
      ))}
    </nav>
  );
});

const Station = memo(function Station(p: { id: string; lens: Lens; number: number; state: string }): ReactElement {
  return (
    <NavLink to={`/jobs/${p.id}/${p.lens}`} className="station">
      <span className="station-key" aria-hidden="true">
        {p.number}
      </span>
      <span className="station-name">{LENS_NAMES[p.lens]}</span>
      <span className="station-state">{p.state}</span>
    </NavLink>
  );
});

/** The sheet of a lens; that something is being worked out is told on it, and does not draw it again. */
const JobSheet = memo(function JobSheet({ lens }: { lens: Lens }): ReactElement {
  const working = useWorking();
  const { household } = useJobFacts();
  const mayWrite = useAppSelector((s) => selectMay(s, 'POST /jobs/:id/facts'));
  return (
    <main className="sheet" data-lens={lens} aria-busy={working}>
      <h1 className="visually-hidden">
        {LENS_NAMES[lens]}, {household.name}
      </h1>
      <ChosenCard lens={lens} />
      {!mayWrite && <p className="note only-reads">You look here. Try what you like: nothing is written.</p>}
      <SheetOf lens={lens} />
    </main>
  );
});

const SheetOf = memo(function SheetOf({ lens }: { lens: Lens }): ReactElement {
  const { Part: Sheet, fault } = useLazyPart(SHEETS[lens]);
  if (fault) throw fault;
  return Sheet ? <Sheet /> : <Loader aria-label="Opening the sheet" m="md" />;
});

const ChosenCard = memo(function ChosenCard({ lens }: { lens: Lens }): ReactElement | null {
  const job = useJob();
  const chosen = useAppSelector((s) => s.session.chosen);
  if (chosen === null) return null;
  return <ElementCard line={job.view?.system ?? SKELETON} profile={profileOf(job, lens)} elementId={chosen} />;
});
