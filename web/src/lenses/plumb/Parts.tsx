import {
  alongTheWater,
  EXTRAS,
  extraFrom,
  extrasOpen,
  kindRow,
  partsFor,
  withExtra,
  type Component,
  type ExtraName,
  type System,
} from '@katharos/core';
import { Button, NativeSelect } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useEffect, useRef, useState, type ReactElement } from 'react';
import { Consequences } from '../../job/Consequences.tsx';
import { Fitted } from '../../job/Fitted.tsx';
import { Notes } from '../../job/Notes.tsx';
import { Photographs } from '../../job/Photographs.tsx';
import { TakeBack } from '../../job/TakeBack.tsx';
import { useJob } from '../../job/useJob.ts';
import { usePhone } from '../../ui/usePhone.ts';
import './parts.css';

/** What the system is made of, along the water: each part replaced or photographed; what it may carry beside its sizing. */
export function Parts({ chosen, onChoose }: { chosen: string | null; onChoose: (id: string) => void }): ReactElement | null {
  const { built } = useJob();
  const side = useRef<HTMLDivElement>(null);
  const phone = usePhone();
  useEffect(() => {
    // on a phone what was chosen stands below the whole list
    if (phone && chosen !== null) side.current?.scrollIntoView({ block: 'center' });
  }, [phone, chosen]);
  if (!built) return null;
  const { system } = built;
  const all = [...alongTheWater(system), ...system.components.filter((c) => kindRow(c.kind).chain === 'stands')];
  const mine = all.filter((c) => c.part);
  const here = mine.find((c) => c.id === chosen) ?? mine[0];
  return (
    <div className="parts-sheet">
      <section aria-label="Parts">
        <h2 className="zone-title">Along the water</h2>
        <ol className="parts-list">
          {mine.map((c) => (
            <Row key={c.id} component={c} pressed={c.id === here?.id} onChoose={onChoose} />
          ))}
        </ol>
      </section>
      <div ref={side} className="parts-side">{here && <Chosen key={`${here.id} ${here.part?.id ?? ''}`} component={here} />}</div>
      <Beside system={system} />
    </div>
  );
} // oxfmt-ignore

/** One part of the system. */
function Row({
  component: c,
  pressed,
  onChoose,
}: {
  readonly component: Component;
  readonly pressed: boolean;
  readonly onChoose: (id: string) => void;
}): ReactElement {
  const { record } = useJob();
  const beside = record.carries.some((f) => c.id === f.id || c.id === `${f.id}.tee`);
  return (
    <li>
      <button
        type="button"
        aria-pressed={pressed}
        onClick={() => {
          onChoose(c.id);
        }}
      >
        <span>{c.slot}</span>
        <b>{c.part?.name}</b>
        {(beside || record.fitted[c.id]) && (
          <small>{beside ? 'beside the sizing' : 'as it was fitted'}</small>
        )}
      </button>
    </li>
  );
} // oxfmt-ignore

/** The part chosen: how it goes in, another in its place, what it looks like here. */
function Chosen({ component: c }: { component: Component }): ReactElement {
  const { record, rules } = useJob();
  const beside = record.carries.find((f) => f.id === c.id);
  const { part } = c;
  return (
    <section aria-label={`The ${c.slot}`}>
      <h2 className="zone-title">{part?.name}</h2>
      {part?.fitting !== undefined && <p>{part.fitting}</p>}
      <p className="small">
        {part?.price === undefined ? 'No price on the shelf.' : `${String(part.price)} ${rules.currency}.`} Missing or
        damaged: take another from the shelf, and see what it does before it counts.
      </p>
      <Fitted component={c} />
      <Photographs about={c.id} what={`the ${c.slot}`} />
      <Notes about={c.id} what={`the ${c.slot}`} />
      {beside && <TakeBack id={beside.id} what={`the ${c.slot}`} />}
    </section>
  );
}

/** What it may carry beside its sizing, each with what it does before it is put in. */
function Beside({ system }: { system: System }): ReactElement {
  const { parts } = useJob();
  const [looked, setLooked] = useState<ExtraName | null>(null);
  const open = extrasOpen(system);
  return (
    <section aria-label="Beside the sizing">
      <h2 className="zone-title">Beside the sizing</h2>
      <ul className="extras">
        {open.map((name) => {
          const offered = partsFor(name, parts);
          return (
            <li key={name}>
              <p>
                <b>{EXTRAS[name].label}.</b> {EXTRAS[name].why}
              </p>
              {offered.length === 0 ? (
                <p className="small">The shelf has none.</p>
              ) : looked === name ? (
                <PutIn name={name} system={system} onDone={() => { setLooked(null); }} />
              ) : (
                <Button
                  size="xs"
                  variant="default"
                  onClick={() => {
                    setLooked(name);
                  }}
                >
                  See what it does
                </Button>
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
} // oxfmt-ignore

/** What one thing more would do, and the way to put it in. */
function PutIn({ name, system, onDone }: { name: ExtraName; system: System; onDone: () => void }): ReactElement | null {
  const { parts, approved, add } = useJob();
  const offered = partsFor(name, parts);
  const [partId, setPartId] = useState(offered[0]?.id ?? '');
  const extra = extraFrom(name, 'tried', parts, offered.find((p) => p.id === partId)); // oxfmt-ignore
  if (!extra || !approved) return <p className="small">The shelf lacks the tee it hangs on.</p>;
  return (
    <div className="put-in">
      {offered.length > 1 && (
        <NativeSelect
          label="Which"
          size="xs"
          value={partId}
          data={offered.map((p) => ({ value: p.id, label: p.name }))}
          onChange={(e) => {
            setPartId(e.currentTarget.value);
          }}
        />
      )}
      <Consequences changed={withExtra(system, extra)} />
      <p className="put-in-acts">
        <Button
          size="xs"
          onClick={() => {
            const { part, tee } = extra;
            add({ kind: 'carries', design: approved.id, extra: name, part, ...(tee ? { tee } : {}) });
            notifications.show({ message: `${EXTRAS[name].label} is in. The approval stands.` });
            onDone();
          }}
        >
          Put it in
        </Button>
        <Button size="xs" variant="subtle" onClick={onDone}>
          Leave it
        </Button>
      </p>
    </div>
  );
}
