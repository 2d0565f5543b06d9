import { partIn, systemInWords } from '@katharos/core';
import { Button, SegmentedControl } from '@mantine/core';
import { IconPrinter } from '../../ui/icons.ts';
import { useState, type ReactElement } from 'react';
import { elementChosen } from '../../data/session.ts';
import { useAppDispatch } from '../../data/store.ts';
import { NeedsDesign } from '../../job/NeedsDesign.tsx';
import { useJob } from '../../job/useJob.ts';
import { usePrinting } from '../../ui/usePrinting.ts';
import { AsItStands } from './AsItStands.tsx';
import { Holes } from './Holes.tsx';
import { Before } from './Before.tsx';
import { Paper } from './Paper.tsx';
import { Parts } from './Parts.tsx';
import { Joints } from './Joints.tsx';
import { PickList } from './PickList.tsx';
import { Tubes } from './Tubes.tsx';
import { LayoutPart } from './layout/LayoutPart.tsx';
import './plumb.css';

const PARTS = ['Layout', 'Parts', 'Joints', 'Tubes', 'Holes', 'Pick list'] as const;

/** Put it in: where it stands, every joint and tube numbered, the holes, what to fetch. */
export default function Plumb(): ReactElement {
  const { view, approved } = useJob();
  const printing = usePrinting();
  const dispatch = useAppDispatch();
  const [part, setPart] = useState<string>(PARTS[0]);
  const [chosen, setChosen] = useState<string | null>(null);
  if (!view || !approved) return <NeedsDesign what="Plumb" />;
  const parts = {
    Layout: (
      <LayoutPart
        onJoints={(id) => {
          dispatch(elementChosen(id));
          setPart('Joints');
        }}
      />
    ),
    Parts: <Parts chosen={chosen} onChoose={setChosen} />,
    Joints: <Joints view={view} />,
    Tubes: (
      <>
        <AsItStands />
        <Tubes view={view} />
      </>
    ),
    Holes: <Holes view={view} />,
    'Pick list': (
      <PickList
        view={view}
        onReplace={(id) => {
          setChosen(id);
          setPart('Parts');
        }}
      />
    ),
  } satisfies Record<(typeof PARTS)[number], ReactElement>;
  return (
    <>
      {printing && <Paper view={view} />}
      <div className="plumb">
        <div className="plumb-head no-print">
          <SegmentedControl value={part} onChange={setPart} data={[...PARTS]} aria-label="What to show" />
          <p className="small">{systemInWords(view.system)}</p>
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
        <Before view={view} />
        {PARTS.map((name) => (
          <div key={name} className="plumb-part" data-shown={part === name}>
            {parts[name]}
          </div>
        ))}
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
    </>
  );
}
