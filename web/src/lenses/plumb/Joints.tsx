import {
  carrierOf,
  isDone,
  jointGroups,
  jointStep,
  type JointGroup,
  type JointKind,
  type JointSheet,
  type SystemView,
} from '@katharos/core';
import { Button } from '@mantine/core';
import dayjs from 'dayjs';
import { useMemo, type ReactElement } from 'react';
import { Photographs } from '../../job/Photographs.tsx';
import { jointChosen } from '../../data/session.ts';
import { useAppDispatch, useAppSelector } from '../../data/store.ts';
import { JointsDrawing } from '../../job/layout/LayoutDrawing.tsx';
import { useJob } from '../../job/useJob.ts';
import '../../job/joints.css';

/** Every joint, a card for each way of making one: how it is made once, the joints below it, ticked as they are made. */
export function Joints({ view }: { view: SystemView }): ReactElement {
  const { record } = useJob();
  const dispatch = useAppDispatch();
  const joint = useAppSelector((s) => s.session.joint);
  const groups = useMemo(() => jointGroups(view.joints), [view.joints]);
  const made = view.joints.filter((j) => isDone(record, jointStep(j.joint.id))).length;
  const next = groups.find((g) => g.joints.some((j) => !isDone(record, jointStep(j.joint.id))));
  return (
    <section aria-label="Joints">
      <p className="headline">
        {made === view.joints.length
          ? 'Every joint is made.'
          : `${String(made)} of ${String(view.joints.length)} joints made${next ? `; next ${next.title.charAt(0).toLowerCase()}${next.title.slice(1)}` : ''}.`}
      </p>
      <JointsDrawing
        marks={view.joints.map((j) => {
          const state = isDone(record, jointStep(j.joint.id)) ? 'made' : 'open';
          return { id: j.joint.id, state, label: `Joint ${String(j.joint.number)} on the drawing, ${j.where}` };
        })}
        chosen={joint}
        onChoose={(id) => {
          dispatch(jointChosen(id));
          document.getElementById(tickId(id))?.scrollIntoView({ block: 'center', behavior: 'smooth' });
        }}
      />
      {groups.map((g) => (
        <Card key={g.key} view={view} group={g} isNext={g === next} />
      ))}
    </section>
  );
}

/** Where a joint is ticked. */
const tickId = (joint: string): string => `tick-${joint}`;

/** Whether a joint is at what is chosen on the Line or the drawing, or at what hangs on it. */
const isOf = (view: SystemView, { joint }: JointSheet, chosen: string): boolean =>
  joint.component.id === chosen || carrierOf(view.system, joint.component.id) === chosen;

/** One way of making a joint, and the joints made so. */
function Card({
  view,
  group,
  isNext,
}: {
  readonly view: SystemView;
  readonly group: JointGroup;
  readonly isNext: boolean;
}): ReactElement {
  const { record, add, personName } = useJob();
  const chosen = useAppSelector((s) => s.session.chosen);
  const dispatch = useAppDispatch();
  const inHand = useAppSelector((s) => s.session.joint);
  const at = group.joints.find((j) => j.joint.id === inHand);
  const left = group.joints.filter((j) => !isDone(record, jointStep(j.joint.id)));
  const ticks = group.joints.flatMap((j) => {
    const t = record.ticks[jointStep(j.joint.id)];
    return t?.done ? [t] : [];
  });
  const last = ticks.reduce<(typeof ticks)[number] | null>((a, b) => (a && a.at > b.at ? a : b), null);
  const tick = (ids: readonly string[], done: boolean): void => {
    add(...ids.map((id) => ({ kind: 'tick' as const, step: jointStep(id), done })));
  };
  return (
    <article className="joint-card" data-next={isNext}>
      <JointSketch kind={group.kind} />
      <div>
        <h2>{group.title}</h2>
        <p>{group.how}</p>
        <p className="small">Looked at under pressure: {group.look.charAt(0).toLowerCase() + group.look.slice(1)}</p>
      </div>
      <ul className="joint-ticks">
        {group.joints.map((j) => {
          const done = isDone(record, jointStep(j.joint.id));
          return (
            <li key={j.joint.id}>
              <button
                type="button"
                aria-pressed={done}
                id={tickId(j.joint.id)}
                data-chosen={inHand === null ? chosen !== null && isOf(view, j, chosen) : inHand === j.joint.id}
                aria-label={`Joint ${String(j.joint.number)}, ${j.where}: ${done ? 'made' : 'not made'}`}
                onClick={() => {
                  dispatch(jointChosen(j.joint.id));
                  tick([j.joint.id], !done);
                }}
              >
                <b>{j.joint.number}</b>
                <span>{j.where}</span>
              </button>
            </li>
          );
        })}
      </ul>
      {at && (
        <div className="joint-pictures">
          <Photographs about={at.joint.id} what={`joint ${String(at.joint.number)}, ${at.where}`} />
        </div>
      )}
      <p className="joint-foot">
        {last && (
          <small>
            {ticks.length} of {group.joints.length} made, {personName(last.by)} {dayjs(last.at).format('D MMM HH:mm')}
          </small>
        )}
        {left.length > 1 && (
          <Button
            size="xs"
            variant={isNext ? 'filled' : 'default'}
            onClick={() => {
              tick(
                left.map((j) => j.joint.id),
                true,
              );
            }}
          >
            All of this kind are made
          </Button>
        )}
      </p>
    </article>
  );
}

/** How a joint goes together: tube, what holds it, what seals it. */
export function JointSketch({ kind }: { kind: JointKind }): ReactElement {
  return (
    <svg className="joint-sketch" viewBox="0 0 90 50" width={90} height={50} aria-hidden>
      {SKETCHES[kind]}
    </svg>
  );
}

const SKETCHES: Readonly<Record<JointKind, ReactElement>> = {
  'push-fit': (
    <>
      <path d="M2 19H58M2 31H58M58 19V31" />
      <path d="M34 10H86V40H34V34M34 16V10M66 19V31M66 19H86M66 31H86" />
      <path className="seal" d="M48 16V19M48 31V34" />
      <path className="mark" d="M34 15V35" />
    </>
  ),
  compression: (
    <>
      <path d="M2 19H62M2 31H62" />
      <path d="M18 8H46V42H18ZM46 12H86V38H46" />
      <path className="seal" d="M40 16L48 19M40 34L48 31" />
    </>
  ),
  'taper-thread': (
    <>
      <path d="M2 14H30L62 19V31L30 36H2" />
      <path d="M40 6H86V44H40" />
      <path className="seal" d="M34 15V35M40 16V34M46 17V33M52 18V32" />
    </>
  ),
  'gasket-thread': (
    <>
      <path d="M2 12H44V38H2M50 12H86V38H50" />
      <path d="M36 6H64V44H36Z" />
      <path className="seal" d="M47 12V38" />
    </>
  ),
  clamp: (
    <>
      <path d="M22 2V48M62 2V48" />
      <path d="M14 14H70M14 36H70M62 25H86" />
      <path className="seal" d="M60 18V32" />
    </>
  ),
  spigot: (
    <>
      <path d="M40 18H86M40 32H86" />
      <path d="M2 22H44L52 18M2 28H44L52 32" />
      <path className="seal" d="M60 14V36" />
    </>
  ),
};
