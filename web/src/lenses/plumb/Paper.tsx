import {
  agreedStep,
  asLaid,
  cautionsOf,
  wasteOf,
  BOXES,
  formatNumber,
  jointGroups,
  templateOf,
  tubesOf,
  type SystemView,
  type VanBox,
} from '@katharos/core';
import { useMemo, type ReactElement } from 'react';
import { useJob } from '../../job/useJob.ts';
import { Sheet } from '../../ui/Sheet.tsx';
import { BRANCH_WORD } from './branchWords.ts';
import { JointSketch } from './Joints.tsx';
import { PickWords } from './PickList.tsx';
import { Rolls } from './Tubes.tsx';
import { LayoutOnPaper } from '../../job/layout/LayoutDrawing.tsx';
import { useLayout } from '../../job/layout/useLayout.ts';
import './paper.css';

/** What an installer takes along: the layout, tubes and joints, the pick list, the template. A sheet each. */
export function Paper({ view }: { view: SystemView }): ReactElement {
  const { household, rules } = useJob();
  const head = { of: rules, place: household.place };
  const template = useMemo(() => templateOf(view.holes, household.name), [view.holes, household.name]);
  return (
    <>
      <Sheet {...head} title={`Layout, ${household.name}`}>
        <LayoutSheet view={view} />
      </Sheet>
      <Sheet {...head} title={`Tubes and joints, ${household.name}`}>
        <TubesAndJoints view={view} />
      </Sheet>
      <Sheet {...head} title={`Pick list, ${household.name}`}>
        <div className="paper-picks">
          {(Object.keys(BOXES) as VanBox[]).map((box) => {
            const items = view.picks.filter((p) => p.box === box);
            return (
              items.length > 0 && (
                <section key={box}>
                  <h2>{BOXES[box]}</h2>
                  <ul>
                    {items.map((p) => (
                      <li key={p.key}>
                        <PickWords item={p} />
                        {p.note !== '' && <small> {p.note}</small>}
                      </li>
                    ))}
                  </ul>
                </section>
              )
            );
          })}
        </div>
      </Sheet>
      <Sheet {...head} title={`Drilling template, ${household.name}`}>
        <img
          className="paper-template"
          alt="Drilling template, one to one"
          style={{ width: `${String(template.widthMm)}mm`, height: `${String(template.heightMm)}mm` }}
          src={`data:image/svg+xml;utf8,${encodeURIComponent(template.svg)}`}
        />
        <BeforeTheHoles view={view} />
      </Sheet>
    </>
  );
}

function LayoutSheet({ view }: { view: SystemView }): ReactElement {
  const layout = useLayout();
  if (!layout) return <p>The cupboard is not measured: nothing is laid out.</p>;
  const second = layout.laid.some((l) => l.pose.space === 'second');
  const mm = (v: number): string => String(Math.round(v));

  return (
    <>
      <LayoutOnPaper layout={layout} space="cupboard" alone={!second} />
      {second && layout.room.second && (
        <>
          <h2>In {layout.room.second.words}</h2>
          <LayoutOnPaper layout={layout} space="second" alone={false} />
        </>
      )}
      <table className="paper-places">
        <thead>
          <tr>
            <th>part</th>
            <th className="num">its left edge, mm</th>
            <th className="num">its back, mm</th>
            <th className="num">above the floor, mm</th>
            <th>stands</th>
          </tr>
        </thead>
        <tbody>
          {layout.laid.map(({ carried, box, pose }) => (
            <tr key={carried.component.id}>
              <td>{carried.component.part?.name ?? carried.component.slot}</td>
              <td className="num">{mm(box.x0)}</td>
              <td className="num">{mm(box.y0)}</td>
              <td className="num">{mm(box.z0)}</td>
              <td>
                {pose.lies === true ? 'on its side' : 'upright'}
                {pose.turn ? `, turned ${String(pose.turn)}°` : ''}
                {pose.space === 'second' && layout.room.second ? `, in ${layout.room.second.words}` : ''}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <ul>
        {layout.clashes.map((c) => (
          <li key={`${c.code}.${c.at}.${c.with ?? ''}`}>{c.text}</li>
        ))}
        {view.drainProblem !== null && <li>{view.drainProblem}</li>}
        {layout.proposed.size > 0 && <li>As proposed; not taken yet.</li>}
        <li>
          Electrics off the floor, on a residual-current protected socket. Local codes and licensed trades come first.
        </li>
      </ul>
    </>
  );
}

/** What is looked at and agreed before the first hole. */
function BeforeTheHoles({ view }: { view: SystemView }): ReactElement {
  const { record, rules } = useJob();
  const layout = useLayout();
  const waste = layout && wasteOf(layout.system, layout.room, view.site, rules);
  const agreed = record.ticks[agreedStep('holes')];
  return (
    <ul className="paper-before">
      <li>
        {agreed?.done === true
          ? `The household agreed: ${agreed.note ?? ''}.`
          : '☐ Before the first hole the household agrees to where it comes and how large it is.'}
      </li>
      {waste && (
        <li>
          The waste: {waste.words}
          {waste.holeMm === null ? '' : ` Its hole about ${String(waste.holeMm)} mm above the floor.`}
        </li>
      )}
      {cautionsOf(view.system, record.known, view.site).map((c) => (
        <li key={c.code}>{c.text}</li>
      ))}
    </ul>
  );
}

function TubesAndJoints({ view }: { view: SystemView }): ReactElement {
  const layout = useLayout();
  const groups = useMemo(() => jointGroups(view.joints), [view.joints]);
  // a layout that was not taken yet is printed as it is proposed
  const system = layout && layout.proposed.size > 0 ? asLaid(view.system, layout.room, layout.stands) : view.system;
  return (
    <>
      <ul className="paper-tubes">
        {tubesOf(system).map((t) => (
          <li key={t.id}>
            <b>{t.number}</b> {BRANCH_WORD[t.branch]}, {t.from.slot} to {t.to.slot}, {formatNumber(t.boreMm, 2)} mm
            bore: <b>{t.lengthM.toFixed(2)} m</b>
          </li>
        ))}
      </ul>
      <Rolls system={system} />
      <h2>Joints, in the order of the water</h2>
      <div className="paper-cards">
        {groups.map((g) => (
          <section key={g.key} className="paper-card">
            <JointSketch kind={g.kind} />
            <p>
              <b>{g.title}.</b> {g.how} {g.look}
            </p>
            <p>{g.joints.map((j) => `☐ ${String(j.joint.number)} ${j.where}`).join('   ')}</p>
          </section>
        ))}
      </div>
    </>
  );
}
