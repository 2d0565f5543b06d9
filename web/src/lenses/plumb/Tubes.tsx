import {
  formatNumber,
  parseQuantity,
  quantityMessage,
  rollsOf,
  tubesOf,
  type Branch,
  type System,
  type SystemView,
  type Tube,
} from '@katharos/core';
import { TextInput } from '@mantine/core';
import { useState, type ReactElement } from 'react';
import { useJob } from '../../job/useJob.ts';
import { useDraft } from '../../ui/useDraft.ts';
import { BRANCH_WORD } from './branchWords.ts';

/** Every tube with its cut length, and the colours this kit used. */
export function Tubes({ view }: { view: SystemView }): ReactElement {
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
      <h2 className="zone-title">Off the roll</h2>
      <Rolls system={view.system} />
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

/** How the tubes are cut off their rolls: the longest first, each at its mark. */
export function Rolls({ system }: { system: System }): ReactElement {
  return (
    <ul className="rolls">
      {rollsOf(system).map((r, i) => (
        <li key={`${r.part.id} ${String(i)}`}>
          <b>
            {r.part.name}, {formatNumber(r.lengthM, 3)} m
          </b>
          : {r.cuts.map((c) => `tube ${String(c.tube.number)} to ${c.toM.toFixed(2)}`).join(', ')} m;{' '}
          {r.leftM.toFixed(2)} m left
        </li>
      ))}
    </ul>
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
