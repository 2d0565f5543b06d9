import {
  buildSystem,
  choiceOfDesign,
  CORE_VERSION,
  formatMinutes,
  formatNumber,
  sinceApproved,
  siteFrom,
  type Band,
  type Bands,
  type Decision,
  type Design,
  type DesignStudy,
  type DesignVersion,
  type Since,
} from '@katharos/core';
import { Button } from '@mantine/core';
import { IconPrinter } from '@tabler/icons-react';
import dayjs from 'dayjs';
import { useDeferredValue, useMemo, useState, type ReactElement } from 'react';
import { CHARTS } from '../../boot/charts.ts';
import { useJob } from '../../job/useJob.ts';
import { useLate } from '../../data/useLate.ts';
import { usePrinting } from '../../ui/usePrinting.ts';
import { shelfKey, useCore } from '../../data/useCore.ts';
import { Alternatives } from './Alternatives.tsx';
import { Approve, TakeOther } from './Approve.tsx';
import { CustomerSheet } from './CustomerSheet.tsx';
import { beyondEach, FlipScale } from './FlipScale.tsx';
import { OpenQuestions } from './OpenQuestions.tsx';
import { TrialBanner } from './TrialBanner.tsx';

type Recommendation = Extract<Decision, { kind: 'recommendation' }>;

/** Readings shown with their flip, the nearest first. */
const FLIPS_SHOWN = 6;

/** The decision, its reasons and what it hangs on; then the day, the year, the others. */
export function Recommended({ decision: d }: { decision: Recommendation }): ReactElement {
  const job = useJob();
  const { approved, known, errors } = job;
  const key = shelfKey(job.parts, job.rules);
  const { design } = d.chosen;
  const study = useCore('study', [key, known, errors, design, d.contenders]).value;
  const bands = useCore('bands', [key, known, errors, design]).value;
  const shown = useDeferredValue(study);
  const [taking, setTaking] = useState<Design | null>(null);
  const printing = usePrinting();
  const { Part: Charts, fault } = useLate(CHARTS.size);
  const since = useSince(design);
  const differs = since !== null && since.parts.length > 0;
  const edited = since !== null && (differs || since.edits.length > 0);
  return (
    <>
      <div className="size-page">
        <div className="size-head">
          <p className="headline">{approved && !job.trial ? approved.judged.sentence : d.sentence}</p>
          <TrialBanner />
        </div>
        <div className="size-actions no-print">
          <Approve
            design={design}
            decision={d}
            label={approved ? 'Approve as a new version' : 'Approve this design'}
            disabled={approved !== null && !edited}
          />
          <Button
            variant="default"
            leftSection={<IconPrinter size={16} />}
            onClick={() => {
              window.print();
            }}
          >
            Print for the household
          </Button>
          <span className="small">
            {approved
              ? `Version ${String(approved.number)} approved ${dayjs(approved.at).format('D MMM YYYY, HH:mm')} by ${job.personName(approved.by)}${approved.judged.coreVersion === CORE_VERSION ? '' : `, worked out by version ${approved.judged.coreVersion} of the computation`}${differs ? '. The readings now lead to another design.' : '.'}`
              : 'Nothing is approved yet: the Line shows the proposal.'}
          </span>
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
            <OpenQuestions design={design} />
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
      </div>
      {printing && <CustomerSheet decision={d} />}
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

/** What differs since the design was approved; null while nothing is. */
function useSince(design: Design): Since | null {
  const { built, parts, rules, record } = useJob();
  return useMemo(() => {
    const site = siteFrom(record.known, rules);
    if (!built) return null;
    const leadsTo = site.ok ? buildSystem(choiceOfDesign(design, parts), parts, site.site) : null;
    return sinceApproved(built.version, built.system, leadsTo, record.known, parts, rules);
  }, [built, parts, rules, record.known, design]);
}

/** What stands otherwise now than when the design was approved; none of it moves the design. */
function Differences({
  since,
  approved,
  leadsTo,
}: {
  since: Since;
  approved: DesignVersion;
  leadsTo: string;
}): ReactElement {
  const { number, reason, judged } = approved;
  return (
    <div className="note">
      Version {number} is kept as approved{reason === '' ? '' : `, against the advice: ${reason}`}.
      {judged.shelf === 'as at the change of version' &&
        ' Its parts are as the shelf had them when documents changed their version.'}
      {since.parts.length > 0
        ? ` The readings now lead to another: ${leadsTo}`
        : ' Sized anew it would be the same parts.'}{' '}
      What differs since:
      <ul className="plain-list">
        {since.parts.map((x) => (
          <li key={x.what}>
            {x.what}: {x.from} in version {number}, {x.to} now
          </li>
        ))}
        {since.edits.map((e) => (
          <li key={e}>{e}</li>
        ))}
      </ul>
    </div>
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
