import { formatNumber, formatReading, JOINT_NAMES, kindRow, type Profile, type System } from '@katharos/core';
import { CloseButton } from '@mantine/core';
import type { ReactElement } from 'react';
import { Fitted } from '../job/Fitted.tsx';
import { Photographs } from '../job/Photographs.tsx';
import { useJob } from '../job/useJob.ts';
import { useAppDispatch, useAppSelector } from '../data/store.ts';
import { elementChosen, jointChosen } from '../data/session.ts';

/** The card of the chosen element: what it is, what passes it, how it is joined. */
export function ElementCard({
  line,
  profile,
  elementId,
}: {
  line: System;
  profile: Profile | null;
  elementId: string;
}): ReactElement | null {
  const { view, built } = useJob();
  const dispatch = useAppDispatch();
  const chosenJoint = useAppSelector((s) => s.session.joint);
  const e = line.components.find((x) => x.id === elementId);
  if (!e) return null;
  const { part } = e;
  const p = profile?.points.find((x) => x.id === elementId);
  const joints = view?.joints.filter((j) => j.joint.component.id === elementId) ?? [];
  const n = formatNumber;
  return (
    <section className="element-card" aria-label={`Card of the ${e.slot}`}>
      <div>
        <h2>{e.slot}</h2>
        <p>{part ? part.name : kindRow(e.kind).partKind === null ? 'already in the house' : 'not chosen yet'}</p>
      </div>
      {p && (
        <dl className="figures">
          <div>
            <dt>pressure</dt>
            <dd>{n(p.pressureBar, 2)} bar</dd>
          </div>
          <div>
            <dt>flow</dt>
            <dd>{n(p.flowLMin, 2)} L/min</dd>
          </div>
          <div>
            <dt>TDS</dt>
            <dd>{n(p.tdsMgL, 3)} mg/L</dd>
          </div>
        </dl>
      )}
      {part && (
        <dl className="figures">
          <div>
            <dt>bears up to</dt>
            <dd>{n(part.maxPressureBar, 2)} bar</dd>
          </div>
          {part.life && (
            <div>
              <dt>life</dt>
              <dd>
                {[
                  part.life.months ? `${formatReading(part.life.months)} months` : '',
                  part.life.litres ? `${formatReading(part.life.litres, 5)} L` : '',
                ]
                  .filter(Boolean)
                  .join(' or ')}
              </dd>
            </div>
          )}
        </dl>
      )}
      <div className="element-card-text">
        {part?.fitting !== undefined && <p>{part.fitting}</p>}
        {joints.length > 0 && (
          <ul className="element-joints">
            {joints.map(({ joint: j }) => (
              <li key={j.id}>
                <button
                  type="button"
                  aria-pressed={chosenJoint === j.id}
                  onClick={() => {
                    dispatch(jointChosen(j.id));
                  }}
                >
                  Joint {j.number}: {JOINT_NAMES[j.kind]} {j.size}
                </button>
              </li>
            ))}
          </ul>
        )}
        {built && <Fitted key={`${e.id} ${part?.id ?? ''}`} component={e} />}
        {built && <Photographs about={e.id} what={`the ${e.slot}`} />}
      </div>
      <CloseButton
        aria-label="Close the card"
        onClick={() => {
          dispatch(elementChosen(null));
        }}
      />
    </section>
  );
}
