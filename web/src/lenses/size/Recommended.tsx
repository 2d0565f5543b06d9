import {
  formatMinutes,
  formatNumber,
  type Band,
  type Bands,
  type Decision,
  type Proposal,
  type DesignStudy,
} from '@katharos/core';
import { Button } from '@mantine/core';
import { useDeferredValue, useState, type ReactElement } from 'react';
import { CHARTS } from '../../boot/charts.ts';
import { useBeside } from '../../job/useBeside.ts';
import { useJob } from '../../job/useJob.ts';
import { useLazyPart } from '../../data/useLazyPart.ts';
import { Alternatives } from './Alternatives.tsx';
import { Approve, TakeOther } from './Approve.tsx';
import { beyondEach, FlipScale } from './FlipScale.tsx';
import { OpenQuestions } from './OpenQuestions.tsx';
import { Softening } from './Softening.tsx';
import { ApprovedWhen, Differences, PrintForHousehold, useSince } from './Standing.tsx';
import { TrialBanner } from './TrialBanner.tsx';

type Recommendation = Extract<Decision, { kind: 'recommendation' }>;

/** Readings shown with their flip, the nearest first. */
const FLIPS_SHOWN = 6;

/** The decision, its reasons and what it hangs on; then the day, the year, the others. */
export function Recommended({ decision: d }: { decision: Recommendation }): ReactElement {
  const job = useJob();
  const { approved } = job;
  const { design } = d.chosen;
  const study = useBeside('study', d).value;
  const bands = useBeside('bands', d).value;
  const shown = useDeferredValue(study);
  const [taking, setTaking] = useState<Proposal | null>(null);
  const { Part: Charts, fault } = useLazyPart(CHARTS.size);
  const since = useSince();
  const edited = since !== null && since.parts.length + since.edits.length > 0;
  return (
    <>
      <div className="size-page">
        <div className="size-head">
          <p className="headline" aria-busy={!job.decision.fresh}>
            {approved && !job.trial ? approved.judged.sentence : (job.sentence ?? d.sentence)}
          </p>
          <TrialBanner />
        </div>
        <div className="size-actions no-print">
          <Approve
            proposal={{ design }}
            decision={d}
            label={approved ? 'Approve as a new version' : 'Approve this design'}
            disabled={approved !== null && !edited}
          />
          <PrintForHousehold />
          <ApprovedWhen since={since} />
        </div>
        {approved && edited && <Differences since={since} approved={approved} leadsTo={d.sentence} />}
        <div className="size-why">
          <section>
            <h2 className="zone-title">Why</h2>
            <ul className="plain-list reasons">
              {(approved && !job.trial ? approved.judged.reasons : d.reasons).map((r) => (
                <li key={r}>{r}</li>
              ))}
            </ul>
            <OpenQuestions decision={d} />
          </section>
          <section>
            <h2 className="zone-title">How near it is</h2>
            {study ? (
              <Flips study={study} pumped={design.pumpId !== null} />
            ) : (
              <p className="empty">Looking for its flips.</p>
            )}
            {bands && <BandsLine bands={bands} direct={design.tankId === null} />}
          </section>
        </div>
        {shown &&
          (Charts ? (
            <Charts study={shown} decision={d} />
          ) : (
            <p className="empty">
              {fault ? 'The charts did not come. Load the page again once there is signal.' : 'Drawing.'}
            </p>
          ))}
        <Softening decision={d} />
        <Alternatives
          decision={d}
          onTake={(other) => {
            setTaking({ design: other });
          }}
        />
        <Besides decision={d} onTake={setTaking} />
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
      </div>
      {taking && (
        <TakeOther
          proposal={taking}
          decision={d}
          onClose={() => {
            setTaking(null);
          }}
        />
      )}
    </>
  );
}

/** What else would do, stored otherwise: told with what speaks for and against it, and taken with a reason. */
function Besides({
  decision,
  onTake,
}: {
  decision: Recommendation;
  onTake: (p: Proposal) => void;
}): ReactElement | null {
  const a = useBeside('vented', decision).value;
  if (!a) return null;
  return (
    <section className="besides">
      <h2 className="zone-title">Stored otherwise</h2>
      <div>
        <p>
          <b>{a.sentence}</b>
        </p>
        <ul className="plain-list small">
          {a.reasons.map((r) => (
            <li key={r}>{r}</li>
          ))}
        </ul>
        <Button
          className="no-print"
          variant="default"
          size="xs"
          onClick={() => {
            onTake({ assembly: a });
          }}
        >
          Take the vented tank
        </Button>
      </div>
    </section>
  );
}

function Flips({ study, pumped }: { study: DesignStudy; pumped: boolean }): ReactElement {
  const edged = study.flips.filter((f) => f.holdsFrom !== null || f.holdsTo !== null);
  const deciding = edged.slice(0, FLIPS_SHOWN);
  const beyond = beyondEach(deciding);
  const others = study.flips.filter((f) => f.holdsFrom === null && f.holdsTo === null);
  const again = deciding.filter((f) => f.near).map((f) => f.label);
  return (
    <div className="flips">
      {again.length > 0 && <p className="flip-again">Worth a careful reading, it decides: {again.join(', ')}.</p>}
      {deciding.map((f, i) => (
        <FlipScale key={f.field} flip={f} beyond={beyond[i] ?? null} />
      ))}
      {others.length > 0 && (
        <p className="small">Whatever these read, it stays: {others.map((f) => f.label).join(', ')}.</p>
      )}
      {pumped && (
        <p className="small">
          {study.noPumpFromBar === null
            ? 'The same parts would not do without the pump at any pressure up to 8 bar.'
            : `The same parts would do without the pump from ${formatNumber(study.noPumpFromBar, 2)} bar at the worst hour.`}
        </p>
      )}
    </div>
  );
}

/** What comes of it when readings and parts are what they may be. */
function BandsLine({ bands: b, direct }: { bands: Bands; direct: boolean }): ReactElement {
  const range = (x: Band, unit: string): string => `${formatNumber(x.low, 2)} to ${formatNumber(x.high, 2)} ${unit}`;
  return (
    <p className="small">
      <b>How sure.</b> Readings and parts drawn {String(b.draws)} times within their errors: it does in{' '}
      {formatNumber(100 * b.holds, 2)} % of them. Nine in ten lie within{' '}
      {direct
        ? `${range(b.tapFlowLMin, 'L/min at the tap')}, ${range(b.tankTdsMgL, 'mg/L running')}`
        : `${range(b.litresADay, 'L a day')}, ${formatMinutes(b.fillMinutes.low)} to ${formatMinutes(b.fillMinutes.high)} a fill, ${range(b.tankTdsMgL, 'mg/L in the tank')}`}{' '}
      and {range(b.wasteRatio, 'L to the drain for each litre')}.
    </p>
  );
}
