import {
  formatNumber,
  inSentence,
  ofWork,
  proofField,
  type Diagnosis,
  type ProofKey,
  type ProofReadings,
} from '@katharos/core';
import { UnstyledButton } from '@mantine/core';
import type { ReactElement } from 'react';
import { useCore } from '../../data/useCore.ts';
import { useJob } from '../../job/useJob.ts';
import { nowMs } from '../../ui/clock.ts';
import type { MeterErrors } from './meters.ts';

/** Below this a fault is not worth a line. */
const WORTH_NAMING = 0.04;
const DAY_MS = 86_400_000;
/** So many further readings are named. */
const MOST_NEXT = 3;

/** How long the membrane has worked, whole days; undefined before it does. */
function useAgeDays(): number | undefined {
  const { built } = useJob();
  const [membrane] = built ? ofWork(built.system, 'separates') : [];
  const since = membrane ? built?.startedMs(membrane.id) : null;
  return since === null || since === undefined ? undefined : Math.max(0, Math.floor((nowMs() - since) / DAY_MS));
}

/** What the readings say is wrong, worked out beside the page; null until it is: the answer to other readings is never shown. */
export function useDiagnosis(readings: ProofReadings, { meterError, own }: MeterErrors): Diagnosis | null {
  const { built } = useJob();
  const ageDays = useAgeDays();
  const asked = built
    ? ([
        readings,
        built.system,
        built.version.judged.known,
        built.version.judged.rules,
        { meterError, own, ageDays },
      ] as const)
    : null;
  const { value, fresh } = useCore('faults', asked && [...asked]);
  return fresh ? (value ?? null) : null;
}

/** A cause likelier than this is what to do something about first. */
const FOUND = 0.5;

/** What to do next: about the cause that was found, then what the figures by themselves ask for. */
export function nextSteps(told: Diagnosis | null, next: readonly string[]): string[] {
  const [top] = told?.ranked ?? [];
  return top && top.code !== 'none' && top.likelihood > FOUND
    ? [top.check, ...next.filter((n) => n !== top.check)]
    : [...next];
}

/**
 * What may be wrong, each fault simulated and compared with all that was read, most likely first; which reading would tell most for
 * its minutes; what none of the readings taken shows.
 */
export function Faults({
  told,
  onRead,
}: {
  readonly told: Diagnosis | null;
  readonly onRead?: ((key: ProofKey) => void) | undefined;
}): ReactElement | null {
  if (!told) return null;
  const named = told.ranked.filter((f) => f.likelihood >= WORTH_NAMING);
  const sound = named[0]?.code === 'none';
  return (
    <>
      {named.length > 0 && !sound && (
        <>
          <h2 className="zone-title">What explains all readings together</h2>
          <ul className="faults">
            {named.map((f) => (
              <li key={`${f.code} ${f.with ?? ''}`}>
                <span className="fault-share" aria-hidden="true">
                  <span style={{ width: `${String(100 * f.likelihood)}%` }} />
                </span>
                <b>{formatNumber(100 * f.likelihood, 2)} %</b> {f.name}
                {f.code !== 'none' && <small>{f.check}</small>}
              </li>
            ))}
          </ul>
        </>
      )}
      {told.next.length > 0 && (
        <div className={sound ? 'no-print' : undefined}>
          <h2 className="zone-title">{sound ? 'Worth reading still' : 'Read next: it tells most for its minutes'}</h2>
          <ul className="plain-list" aria-label="Readings worth taking">
            {told.next.slice(0, MOST_NEXT).map((x) => (
              <li key={x.key}>
                {onRead ? (
                  <UnstyledButton
                    className="read-next"
                    onClick={() => {
                      onRead(x.key);
                    }}
                  >
                    {proofField(x.key).label}
                  </UnstyledButton>
                ) : (
                  <b>{proofField(x.key).label}</b>
                )}
                , about {x.minutes} min. <span className="small">{proofField(x.key).how}</span>
              </li>
            ))}
          </ul>
        </div>
      )}
      {told.notLookedAt.length > 0 && (
        <p className="small">
          Not looked at, as no reading shows it yet:{' '}
          {told.notLookedAt.map((f) => `${f.name} (${inSentence(proofField(f.by).label)})`).join('; ')}.
        </p>
      )}
    </>
  );
}
