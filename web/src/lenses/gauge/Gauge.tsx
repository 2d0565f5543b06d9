import {
  choiceWords,
  canRead,
  FIELD_KEYS,
  gaugeField,
  jobDoubts,
  siteFrom,
  tdsFactorFrom,
  tdsPerUSCm,
  type Assumed,
  type DesignStudy,
  type Instrument,
  type Turns,
  type FieldKey,
} from '@katharos/core';
import { Autocomplete, Button } from '@mantine/core';
import { useLocalStorage } from '@mantine/hooks';
import {
  memo,
  useCallback,
  useDeferredValue,
  useEffect,
  useMemo,
  useState,
  type ReactElement,
  type ReactNode,
} from 'react';
import { flushSync } from 'react-dom';
import { useAppDispatch } from '../../data/store.ts';
import { CUPBOARD } from '../../boot/cupboard.ts';
import { OpenSamples, SampleForm } from '../../job/Samples.tsx';
import { LABORATORY } from '../../boot/laboratory.ts';
import { useLazyPart } from '../../data/useLazyPart.ts';
import { useBeside } from '../../job/useBeside.ts';
import { useJob, type JobContext } from '../../job/useJob.ts';
import { DayOfDraws } from '../../job/day/DayOfDraws.tsx';
import { useDay } from '../../job/day/useDay.ts';
import { tried } from '../../data/session.ts';
import { useDraft } from '../../ui/useDraft.ts';
import { usePhone } from '../../ui/usePhone.ts';
import { Assumptions } from './Assumptions.tsx';
import { Conclusion, ThumbNext, useNext } from './Conclusion.tsx';
import { Doubts } from './Doubts.tsx';
import { assumedWords, fieldId, fieldVisible } from './fieldWords.ts';
import { Reading } from './Reading.tsx';
import { useNextKey, useSheetOrder } from './useSheetOrder.ts';
import './gauge.css';

const GROUPS = [
  ['water', 'Water'],
  ['pressure', 'Pressure'],
  ['household', 'Household'],
  ['place', 'The place'],
] as const;

/** What the decision hangs on: readings near their flip, and questions nobody has asked. */
function useLooks({ decision }: JobContext, sized: boolean): { study: DesignStudy | null; turns: Turns | null } {
  const study = useBeside('study', sized ? decision.value : null);
  const turns = useBeside('turns', decision.value);
  return { study: study.value ?? null, turns: turns.value ?? null };
}

/** Groups of which a person keeps the folds open, on this device. */
type Open = readonly string[];

/** What the house has: what is needed first, then what turns its answer, the rest folded; doubts, and what is assumed. */
export default function Gauge(): ReactElement {
  const job = useJob();
  const { record, known, rules } = job;
  const dispatch = useAppDispatch();
  const site = useMemo(() => siteFrom(known, rules), [known, rules]);
  const { study, turns } = useLooks(job, site.ok);
  const order = useSheetOrder(study, turns, site.ok);
  const [water, setWater] = useDraft('instrument.water');
  const [pressure, setPressure] = useDraft('instrument.pressure');
  const hand = useMemo(() => ({ water, pressure }), [water, pressure]);
  const [open, setOpen] = useLocalStorage<Open>({ key: 'katharos.sheet', defaultValue: [], getInitialValueInEffect: false });
  const [atOnce, setAtOnce] = useState<string | null>(null);
  const [skipped, setSkipped] = useState<ReadonlySet<FieldKey>>(new Set());
  const next = useNext(study, turns, skipped);
  const goTo = useCallback(
    (field: FieldKey) => {
      // what is folded is unfolded first, at once: a phone opens its keyboard only for what a hand's own touch goes to
      if (document.getElementById(fieldId(field)) === null) {
        const { group } = gaugeField(field);
        flushSync(() => {
          setAtOnce(group);
          setOpen((now) => [...new Set([...now, group])]);
        });
      }
      document.getElementById(fieldId(field))?.focus();
    },
    [setOpen],
  );
  useNextKey(next, goTo);
  const leading = {
    next,
    goTo,
    skip: (field: FieldKey) => {
      setSkipped((now) => new Set([...now, field]));
    },
  };
  const phone = usePhone();
  const nothing = Object.keys(record.readings).length === 0;
  // what the decision is about first: what stands further down is drawn next, before anybody can have scrolled to it
  const all = useDeferredValue(true, false);
  // what is being typed is tried on this sheet only
  useEffect(
    () => () => {
      dispatch(tried(null));
    },
    [dispatch],
  );
  const named = [...order.first, ...order.turning];
  const everyGroup = GROUPS.map(([group]) => group);
  const allOpen = everyGroup.every((g) => open.includes(g));
  return (
    <div className="gauge">
      <div className="gauge-entry">
        <Instruments hand={hand} onTake={{ water: setWater, pressure: setPressure }} />
        {nothing && (
          <p className="small">
            First visit: run the cold tap, then read TDS and temperature. Everything else may be assumed, and is shown as
            assumed.
          </p>
        )}
        <Fields id="first" title="First: nothing is sized without these" keys={order.first} assumed={site.assumed} hand={hand} />
        <Fields
          id="turning"
          title={site.ok ? 'What turns the answer here' : 'What usually turns the answer'}
          keys={order.turning}
          assumed={site.assumed}
          hand={hand}
        />
        {all && (
          <>
            <div className="gauge-rest-head">
              <span className="small">The rest turns nothing {site.ok ? 'at present' : 'yet'}.</span>
              <Button
                size="compact-xs"
                variant="default"
                onClick={() => {
                  setOpen(allOpen ? [] : everyGroup);
                }}
              >
                {allOpen ? 'Fold them' : 'Open all'}
              </Button>
            </div>
            {GROUPS.map(([group, title]) => (
              <Folded
                key={group}
                group={group}
                title={title}
                named={named}
                assumed={site.assumed}
                hand={hand}
                open={open.includes(group)}
                atOnce={atOnce === group}
                onOpen={(is) => {
                  setOpen((now) => (is ? [...new Set([...now, group])] : now.filter((g) => g !== group)));
                }}
              />
            ))}
          </>
        )}
      </div>
      <aside className="gauge-side">
        <Conclusion {...leading} />
        <OpenSamples of="raw" />
        <Doubts />
        <Assumptions site={site} flips={study?.flips ?? null} turns={turns} />
        {all && (
          <>
            <h2 className="zone-title">Laboratory</h2>
            <SampleForm water="raw" />
            <TheLaboratory />
          </>
        )}
      </aside>
      {phone && <ThumbNext {...leading} />}
    </div>
  );
} // oxfmt-ignore

/** The meters in hand, by what they read. */
const MEASURED = ['water', 'pressure'] as const;

/** The name of the instrument in hand for each. */
type Hand = Readonly<Record<(typeof MEASURED)[number], string>>;

function Instruments({
  hand,
  onTake,
}: {
  hand: Hand;
  onTake: Readonly<Record<keyof Hand, (name: string) => void>>;
}): ReactElement {
  const { record, instruments } = useJob();
  const names = useMemo(() => {
    const used = Object.values(record.readings).flatMap((r) => (r.instrument ? [r.instrument] : []));
    return [...new Set([...instruments.filter((i) => i.retired !== true).map((i) => i.name), ...used])];
  }, [instruments, record.readings]);
  return (
    <div className="gauge-hand">
      <span className="small">In hand, written down with each reading:</span>
      {MEASURED.map((group) => (
        <InstrumentInHand key={group} group={group} names={names} value={hand[group]} onChange={onTake[group]} />
      ))}
    </div>
  );
}

/** Readings under a heading, each with all it takes to be read. */
function Fields({
  id: section,
  title,
  keys,
  assumed,
  hand,
  children,
}: {
  id: string;
  title?: string;
  keys: readonly FieldKey[];
  assumed: readonly Assumed[];
  hand: Hand;
  children?: ReactNode;
}): ReactElement | null {
  const { record, known, id, add, personName, instruments } = useJob();
  const doubts = useMemo(
    () => jobDoubts(known, record.placed).filter((d) => record.dismissed[d.code] === undefined),
    [known, record],
  );
  const perUSCm = useMemo(
    () => (keys.includes('feedTdsMgL') ? tdsPerUSCm(record.known) : undefined),
    [keys, record.known],
  );
  const takenAs = (k: FieldKey): string | undefined => {
    const a = record.readings[k] === undefined ? assumed.find((x) => x.field === k) : undefined;
    return a && assumedWords(a);
  };
  const inHand = (k: FieldKey): { instrument: string; meter: Instrument | undefined } => {
    const { group } = gaugeField(k);
    const name = group === 'water' || group === 'pressure' ? hand[group] : '';
    const meter = instruments.find((i) => i.name.toLowerCase() === name.trim().toLowerCase());
    return { instrument: meter && !canRead(meter, k) ? '' : name, meter };
  };
  if (keys.length === 0 && children === undefined) return null;
  return (
    <section {...(title === undefined ? {} : { 'aria-labelledby': `sheet-${section}` })}>
      {title !== undefined && (
        <h2 className="zone-title" id={`sheet-${section}`}>
          {title}
        </h2>
      )}
      <div className="gauge-fields">
        {keys.map((k) => {
          const { instrument, meter } = inHand(k);
          return (
            <Reading
              key={`${id}-${k}`}
              field={k}
              instrument={instrument}
              meter={meter}
              fact={record.readings[k]}
              assumed={takenAs(k)}
              ofTheDay={record.ofTheDay[k]}
              taken={record.taken[k]}
              chosen={record.uses[k]?.reason}
              doubt={doubts.find((d) => d.fields[0] === k)?.text}
              weight={doubts.find((d) => d.fields[0] === k)?.weight ?? 'none'}
              perUSCm={k === 'feedTdsMgL' ? (meter?.tdsFactor ?? perUSCm) : undefined}
              perUSCmFrom={
                k !== 'feedTdsMgL'
                  ? undefined
                  : meter?.tdsFactor
                    ? `the factor of ${meter.name}`
                    : tdsFactorFrom(record.known)
              }
              jobId={id}
              add={add}
              personName={personName}
            />
          );
        })}
      </div>
      {children}
    </section>
  );
}

/** What turns nothing at present: told in a line, drawn once it is opened, piece by piece unless wanted at once. */
function Folded({
  group,
  title,
  named,
  assumed,
  hand,
  open,
  atOnce,
  onOpen,
}: {
  group: (typeof GROUPS)[number][0];
  title: string;
  named: readonly FieldKey[];
  assumed: readonly Assumed[];
  hand: Hand;
  open: boolean;
  atOnce: boolean;
  onOpen: (open: boolean) => void;
}): ReactElement {
  const { record, known } = useJob();
  const drawn = useDeferredValue(open);
  const keys = FIELD_KEYS.filter((k) => gaugeField(k).group === group && fieldVisible(k, known) && !named.includes(k));
  const read = keys.flatMap((k) => {
    const fact = record.readings[k];
    const f = gaugeField(k);
    if (!fact) return [];
    return [`${f.label} ${f.type === 'choice' && fact.value !== null ? choiceWords(f, fact.value) : fact.typed}`];
  });
  const with_ = group === 'household' ? ', and their day' : group === 'place' ? ', and the cupboard drawn' : '';
  return (
    <details
      className="gauge-rest"
      open={open}
      onToggle={(e) => {
        if (e.currentTarget.open !== open) onOpen(e.currentTarget.open);
      }}
    >
      <summary>
        <b>{title}</b>, {String(keys.length)} more{with_}
        {!open && read.length > 0 && <small>{read.join(' · ')}</small>}
      </summary>
      {open && (drawn || atOnce) && (
        <Fields id={group} keys={keys} assumed={assumed} hand={hand}>
          {group === 'household' && <TheirDay />}
          {group === 'place' && <TheCupboard />}
        </Fields>
      )}
    </details>
  );
}

const InstrumentInHand = memo(function InstrumentInHand({
  group,
  names,
  value,
  onChange,
}: {
  group: keyof Hand;
  names: string[];
  value: string;
  onChange: (name: string) => void;
}): ReactElement {
  return (
    <Autocomplete
      aria-label={`Instrument for ${group}`}
      placeholder={`for ${group}`}
      size="xs"
      data={names}
      value={value}
      onChange={onChange}
      maxLength={80}
    />
  );
});

/** The cupboard, once what draws it has come: nobody waits for it who only reads the sentence. */
function TheCupboard(): ReactElement {
  const { Part, fault } = useLazyPart(CUPBOARD);
  if (fault) return <p className="caution">The cupboard’s drawing does not come: {fault.message}</p>;
  return Part ? <Part /> : <p className="small">The cupboard’s drawing is on its way.</p>;
}

/** A laboratory's report, once what reads it has come. */
function TheLaboratory(): ReactElement {
  const { Part, fault } = useLazyPart(LABORATORY);
  if (fault) return <p className="caution">What reads a report does not come: {fault.message}</p>;
  return Part ? <Part /> : <p className="small">On its way.</p>;
}

/** The household's habits as a day of draws. */
function TheirDay(): ReactElement | null {
  const day = useDay();
  if (!day.draws) return null;
  return (
    <figure className="gauge-day">
      <figcaption className="small">
        Their day: each bar is a draw. Drag it to its time, up for more litres; the day says litres and largest draw
        from then on.
      </figcaption>
      <DayOfDraws draws={day.draws} drawn={day.drawn} onTry={day.onTry} onKeep={day.onKeep} />
    </figure>
  );
}
