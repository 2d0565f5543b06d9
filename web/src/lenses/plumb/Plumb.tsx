import {
  JOINT_NAMES,
  formatNumber,
  isDone,
  parseQuantity,
  partIn,
  quantityMessage,
  systemInWords,
  tubesOf,
  type Branch,
  type SystemView,
  type Tube,
} from '@katharos/core';
import { Button, Checkbox, SegmentedControl, TextInput } from '@mantine/core';
import { IconPrinter } from '@tabler/icons-react';
import { useState, type ReactElement } from 'react';
import { useJob } from '../../job/useJob.ts';
import { useDraft } from '../../ui/useDraft.ts';
import { NeedsDesign } from '../../job/NeedsDesign.tsx';
import { AsItStands, Places } from './Places.tsx';
import './plumb.css';

const BRANCH_WORD: Readonly<Record<Branch, string>> = {
  feed: 'feed',
  product: 'product',
  tank: 'to the tank',
  fridge: 'on a branch',
  concentrate: 'to the drain',
};
const PARTS = ['Joints', 'Tubes', 'Places', 'Holes'] as const;

/** Put it in: what to fetch, every joint and tube numbered, the holes. */
export default function Plumb(): ReactElement {
  const { view, approved } = useJob();
  const [part, setPart] = useState<string>(PARTS[0]);
  if (!view || !approved) return <NeedsDesign what="Plumb" />;
  return (
    <div className="two-zones">
      <div>
        <PickList view={view} />
      </div>
      <div>
        <div className="plumb-head no-print">
          <p className="headline">{systemInWords(view.system)}</p>
          <Button
            variant="default"
            size="xs"
            leftSection={<IconPrinter size={14} />}
            onClick={() => {
              window.print();
            }}
          >
            Print
          </Button>
        </div>
        {view.faults.map((f) => (
          <p key={f} className="caution">
            {f}
          </p>
        ))}
        {view.drainProblem !== null && <p className="caution">{view.drainProblem}</p>}
        <SegmentedControl
          className="no-print"
          value={part}
          onChange={setPart}
          data={[...PARTS]}
          mb="sm"
          aria-label="What to show"
        />
        <AsItStands />
        <div className="plumb-part" data-shown={part === 'Joints'}>
          <Joints view={view} />
        </div>
        <div className="plumb-part" data-shown={part === 'Tubes'}>
          <Tubes view={view} />
        </div>
        <div className="plumb-part" data-shown={part === 'Places'}>
          <Places view={view} />
        </div>
        <div className="plumb-part" data-shown={part === 'Holes'}>
          <Holes view={view} />
        </div>
        <h2 className="zone-title">Before any spanner</h2>
        <p className="caution">
          Try the stop valve with the tap open, and know the house’s main valve. Look and feel for pipes and wiring
          before drilling. Electrics stay off the floor, on a residual-current protected socket, and are worked with dry
          hands. Local codes and licensed trades come first.
        </p>
        {partIn(view.system, 'mineral') && (
          <p className="caution">
            Product water without minerals takes up metal. Nothing of lead, brass or copper stands between the membrane
            and the minerals; after them, plastic is still the surer way.
          </p>
        )}
      </div>
    </div>
  );
}

function PickList({ view }: { view: SystemView }): ReactElement {
  const { record, add } = useJob();
  const left = view.picks.filter((p) => !isDone(record, `pick:${p.key}`)).length;
  return (
    <>
      <h2 className="zone-title">
        Pick list, {left === 0 ? 'all in the van' : `${String(left)} of ${String(view.picks.length)} still to load`}
      </h2>
      <ul className="picks">
        {view.picks.map((p) => {
          const done = isDone(record, `pick:${p.key}`);
          return (
            <li key={p.key}>
              <Checkbox
                checked={done}
                label={
                  <>
                    <b>{p.amount}</b> {/^\d+$/.exec(p.amount) ? '× ' : ''}
                    {p.name}
                  </>
                }
                description={p.note}
                onChange={() => {
                  add({ kind: 'tick', step: `pick:${p.key}`, done: !done });
                }}
              />
            </li>
          );
        })}
      </ul>
    </>
  );
}

function Joints({ view }: { view: SystemView }): ReactElement {
  return (
    <table className="quiet-table joints">
      <caption className="quiet-caption">Every joint, numbered along the water</caption>
      <thead>
        <tr>
          <th className="num">no.</th>
          <th>where</th>
          <th>kind</th>
          <th>how it is made</th>
          <th>what to look at</th>
        </tr>
      </thead>
      <tbody>
        {view.joints.map((j) => (
          <tr key={j.joint.number}>
            <td className="num">
              <b>{j.joint.number}</b>
            </td>
            <td>
              {j.where}
              <small>
                {BRANCH_WORD[j.joint.branch]}
                {j.joint.tube === null ? '' : `, tube ${String(j.joint.tube)}`}
              </small>
            </td>
            <td>
              {JOINT_NAMES[j.joint.kind]}
              <small>{j.joint.size}</small>
            </td>
            <td>{j.how}</td>
            <td>{j.look}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Tubes({ view }: { view: SystemView }): ReactElement {
  const tubes = tubesOf(view.system);
  const branches = [...new Set(tubes.map((t) => t.branch))];
  return (
    <>
      <table className="tubes quiet-table">
        <caption className="quiet-caption">Every tube with its cut length, slack included</caption>
        <thead>
          <tr>
            <th className="num">no.</th>
            <th>role</th>
            <th>from</th>
            <th>to</th>
            <th className="num">bore, mm</th>
            <th className="num">cut, m</th>
          </tr>
        </thead>
        <tbody>
          {tubes.map((t) => (
            <tr key={t.number}>
              <td className="num">
                <b>{t.number}</b>
              </td>
              <td>{BRANCH_WORD[t.branch]}</td>
              <td>{t.from.slot}</td>
              <td>{t.to.slot}</td>
              <td className="num">{formatNumber(t.boreMm, 2)}</td>
              <td className="num">
                <TubeRun key={`${t.id} ${String(t.lengthM)}`} tube={t} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <h2 className="zone-title">Colours this kit used</h2>
      <p className="small">
        Every kit has its own. Write down which colour carries what, so that the next visit reads them right.
      </p>
      <div className="kit-colours">
        {branches.map((b) => (
          <KitColour key={b} branch={b} />
        ))}
      </div>
    </>
  );
}

/** A tube's length as it was cut: written down over the planned one, it is what the system is worked out with. */
function TubeRun({ tube }: { tube: Tube }): ReactElement {
  const { approved, add } = useJob();
  const planned = tube.lengthM.toFixed(2);
  const [text, setText] = useState(planned);
  const parsed = parseQuantity(text, 'run', 'm', { min: 0.02, max: 100 });
  const keep = (): void => {
    if (!approved || !parsed.ok || Math.abs(parsed.value - tube.lengthM) < 0.005) return;
    add({ kind: 'tube-run', design: approved.id, link: tube.id, lengthM: parsed.value, riseM: tube.riseM });
  };
  return (
    <TextInput
      className="tube-run"
      size="xs"
      aria-label={`Tube ${String(tube.number)} as cut, metres`}
      value={text}
      maxLength={20}
      error={parsed.ok ? undefined : quantityMessage(parsed.problem)}
      onChange={(e) => {
        setText(e.currentTarget.value);
      }}
      onBlur={keep}
      onKeyDown={(e) => {
        if (e.key === 'Enter') e.currentTarget.blur();
      }}
    />
  );
}

function KitColour({ branch }: { branch: Branch }): ReactElement {
  const { record, add, id } = useJob();
  const [draft, setDraft] = useDraft(`${id}.colour.${branch}`);
  const current = record.colours[branch] ?? '';
  return (
    <TextInput
      size="xs"
      label={BRANCH_WORD[branch]}
      value={draft === '' ? current : draft}
      maxLength={40}
      onChange={(e) => {
        setDraft(e.currentTarget.value);
      }}
      onBlur={() => {
        if (draft.trim() !== '' && draft.trim() !== current) add({ kind: 'tube-colour', branch, colour: draft.trim() });
        setDraft('');
      }}
    />
  );
}

function Holes({ view }: { view: SystemView }): ReactElement {
  return (
    <>
      {view.holes.map((h) => (
        <section key={h.where} className="hole">
          <h2>
            {formatNumber(h.diameterMm, 3)} mm, {h.where}
          </h2>
          <p>
            <b>Bit:</b> {h.bit}.
          </p>
          <p>{h.how}</p>
          <p className="caution">{h.caution}</p>
        </section>
      ))}
    </>
  );
}
