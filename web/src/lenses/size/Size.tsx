import { designInWords, formatNumber, sameDesign, CORE_VERSION, type Decision, type Design } from '@katharos/core';
import { DesignVersionSchema } from '@katharos/contract';
import { Alert, Button, Modal, Textarea } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import dayjs from 'dayjs';
import { lazy, Suspense, useMemo, useState, type ReactElement } from 'react';
import { Link } from 'react-router';
import { useApproveDesignMutation } from '../../app/api.ts';
import { errorWords, problemOf } from '../../app/errors.ts';
import { useAppSelector } from '../../app/store.ts';
import { useJob } from '../../app/useJob.ts';
import { useDraft } from '../../store/useDraft.ts';
import { useCore } from '../../worker/useCore.ts';
import { Alternatives } from './Alternatives.tsx';
import { FlipScale } from './FlipScale.tsx';
import { KnownValues } from './KnownValues.tsx';
import './size.css';

const SizeCharts = lazy(() => import('./SizeCharts.tsx'));
type Recommendation = Extract<Decision, { kind: 'recommendation' }>;

/** What will do: the decision first, then what it hangs on, then the others. */
export default function Size(): ReactElement {
  const { decision } = useJob();
  const d = decision.value;
  if (decision.error !== null)
    return (
      <p role="alert" className="caution size-error">
        The sizing could not be worked out: {decision.error}
      </p>
    );
  return (
    <div className="two-zones size">
      <div>
        <KnownValues />
      </div>
      <div aria-live="polite" style={{ opacity: decision.fresh ? 1 : 0.6 }}>
        {!d && <p className="empty">Working it out.</p>}
        {d && d.kind !== 'recommendation' && <NotSized decision={d} />}
        {d?.kind === 'recommendation' && <Recommended decision={d} />}
      </div>
    </div>
  );
}

function NotSized({ decision: d }: { decision: Exclude<Decision, Recommendation> }): ReactElement {
  const { id, parts } = useJob();
  return (
    <>
      <p className="headline">{d.sentence}</p>
      {d.kind === 'needs' && (
        <Button component={Link} to={`/jobs/${id}/gauge`}>
          Go on gauging
        </Button>
      )}
      {d.kind === 'referral' && (
        <>
          {d.reasons.map((r) => (
            <p key={r} className="caution">
              {r}
            </p>
          ))}
          <p>
            <b>What to do.</b> {d.next}
          </p>
        </>
      )}
      {d.kind === 'nothing-fits' && (
        <>
          <p className="zone-title">Why</p>
          <ul className="plain-list">
            {d.reasons.map((r) => (
              <li key={r}>{r}</li>
            ))}
          </ul>
          {d.nearest && (
            <p>
              The nearest is {designInWords(d.nearest.design, parts)}. What could change it: a socket for a pump, a
              softer feed, fewer litres, more room, or another part on the shelf.
            </p>
          )}
        </>
      )}
    </>
  );
}

function Recommended({ decision: d }: { decision: Recommendation }): ReactElement {
  const job = useJob();
  const input = useMemo(
    () => ({ known: job.record.known, catalogue: job.parts, rules: job.rules }),
    [job.record.known, job.parts, job.rules],
  );
  const study = useCore('studyDesign', [input, d.chosen.design]).value;
  const [taking, setTaking] = useState<Design | null>(null);
  const { approved } = job;
  const differs = approved !== null && !sameDesign(approved.design, d.chosen.design);
  return (
    <>
      <p className="headline">{d.sentence}</p>
      <ul className="plain-list reasons">
        {d.reasons.map((r) => (
          <li key={r}>{r}</li>
        ))}
      </ul>
      {study && (
        <div className="flips">
          {study.flips.map((f) => (
            <FlipScale key={f.field} flip={f} />
          ))}
          {d.chosen.design.pumpId !== null && (
            <p className="small">
              {study.noPumpFromBar === null
                ? 'The same parts would not do without the pump at any pressure up to 8 bar.'
                : `The same parts would do without the pump from ${formatNumber(study.noPumpFromBar, 2)} bar at the worst hour.`}
            </p>
          )}
        </div>
      )}
      {d.safety.map((s) => (
        <p key={s.code} className="caution">
          {s.text}
        </p>
      ))}
      <div className="size-actions no-print">
        <Approve
          design={d.chosen.design}
          decision={d}
          label={approved ? 'Approve as a new version' : 'Approve this design'}
          disabled={approved !== null && !differs}
        />
        <span className="small">
          {approved
            ? `Version ${String(approved.number)} approved ${dayjs(approved.at).format('D MMM HH:mm')} by ${job.personName(approved.by)}${differs ? '. The readings now lead to another design.' : '.'}`
            : 'Nothing is approved yet: the Line shows the proposal.'}
        </span>
      </div>
      {differs && <p className="note">Approved and kept: {designInWords(approved.design, job.parts)}.</p>}
      {study && (
        <Suspense fallback={<p className="empty">Drawing.</p>}>
          <SizeCharts study={study} decision={d} />
        </Suspense>
      )}
      <Alternatives decision={d} onTake={setTaking} />
      {d.rejected.length > 0 && (
        <>
          <h2 className="zone-title">Set aside, each for its first reason</h2>
          <ul className="plain-list small">
            {d.rejected.map((r) => (
              <li key={r}>{r}</li>
            ))}
          </ul>
        </>
      )}
      <h2 className="zone-title">Not judged here</h2>
      <p className="small">
        {d.notJudged.join('; ')}. A worry about any of these is answered by a laboratory or a specialist, not by this
        sheet. Local plumbing and electrical codes and licensed trades come first.
      </p>
      {taking && (
        <TakeOther
          design={taking}
          decision={d}
          onClose={() => {
            setTaking(null);
          }}
        />
      )}
    </>
  );
}

function useApprove(decision: Recommendation): {
  approve: (design: Design, reason: string) => Promise<boolean>;
  busy: boolean;
  problem: string | null;
} {
  const { id, approved } = useJob();
  const personId = useAppSelector((s) => s.session.personId);
  const [send, { isLoading }] = useApproveDesignMutation();
  const [problem, setProblem] = useState<string | null>(null);
  const approve = async (design: Design, reason: string): Promise<boolean> => {
    if (personId === null) return false;
    setProblem(null);
    try {
      const made = await send({
        jobId: id,
        body: {
          id: crypto.randomUUID(),
          basedOn: approved?.number ?? 0,
          design,
          sentence: decision.sentence.slice(0, 600),
          reason,
          coreVersion: CORE_VERSION,
          at: new Date().toISOString(),
          by: personId,
        },
      }).unwrap();
      notifications.show({ message: `Approved as version ${String(made.number)}. Plumb has the pick list.` });
      return true;
    } catch (e) {
      const current = DesignVersionSchema.safeParse(problemOf(e)?.current).data;
      setProblem(
        current
          ? `Version ${String(current.number)} was approved meanwhile. It is shown once this page has read it; look at it before you approve over it.`
          : errorWords(e),
      );
      return false;
    }
  };
  return { approve, busy: isLoading, problem };
}

function Approve({
  design,
  decision,
  label,
  disabled,
}: {
  design: Design;
  decision: Recommendation;
  label: string;
  disabled: boolean;
}): ReactElement {
  const { approve, busy, problem } = useApprove(decision);
  const held = decision.safety.filter((s) => s.code === 'cold-not-told' || s.code === 'warm-feed');
  return (
    <>
      <Button
        loading={busy}
        disabled={disabled || held.length > 0}
        onClick={() => {
          void approve(design, '');
        }}
      >
        {label}
      </Button>
      {held.length > 0 && <span className="small">Held back until the caution above is settled in Gauge.</span>}
      {problem !== null && (
        <Alert color="red" role="alert">
          {problem}
        </Alert>
      )}
    </>
  );
}

function TakeOther({
  design,
  decision,
  onClose,
}: {
  design: Design;
  decision: Recommendation;
  onClose: () => void;
}): ReactElement {
  const { id, parts } = useJob();
  const [reason, setReason] = useDraft(`${id}.against`);
  const { approve, busy, problem } = useApprove(decision);
  return (
    <Modal opened onClose={onClose} title="Take this one against the advice">
      <p>{designInWords(design, parts)}</p>
      <Textarea
        label="Why"
        description="Kept with the design."
        value={reason}
        autosize
        minRows={2}
        maxLength={600}
        data-autofocus
        onChange={(e) => {
          setReason(e.currentTarget.value);
        }}
      />
      {problem !== null && (
        <Alert color="red" role="alert" mt="sm">
          {problem}
        </Alert>
      )}
      <Button
        mt="md"
        loading={busy}
        disabled={reason.trim() === ''}
        onClick={() => {
          void approve(design, reason.trim()).then((ok) => {
            if (ok) {
              setReason('');
              onClose();
            }
          });
        }}
      >
        Approve this one
      </Button>
    </Modal>
  );
}
