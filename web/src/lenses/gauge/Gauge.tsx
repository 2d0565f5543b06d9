import {
  canRead,
  FIELD_KEYS,
  gaugeField,
  jobDoubts,
  siteFrom,
  tdsPerUSCm,
  type Assumed,
  type DesignStudy,
  type Turns,
  type FieldKey,
} from '@katharos/core';
import { Autocomplete } from '@mantine/core';
import { memo, useDeferredValue, useEffect, useMemo, type ReactElement } from 'react';
import { useAppDispatch } from '../../data/store.ts';
import { useJob, type JobContext } from '../../job/useJob.ts';
import { DayOfDraws } from '../../job/day/DayOfDraws.tsx';
import { useDay } from '../../job/day/useDay.ts';
import { tried } from '../../data/session.ts';
import { useDraft } from '../../ui/useDraft.ts';
import { usePhone } from '../../ui/usePhone.ts';
import { shelfKey } from '../../data/coreWorkers.ts';
import { useCore } from '../../data/useCore.ts';
import { Assumptions } from './Assumptions.tsx';
import { Cupboard } from './Cupboard.tsx';
import { Conclusion, ThumbNext, useNext } from './Conclusion.tsx';
import { Doubts } from './Doubts.tsx';
import { assumedWords, fieldVisible } from './fieldWords.ts';
import { LabReport } from './LabReport.tsx';
import { Reading } from './Reading.tsx';
import './gauge.css';

const GROUPS = [
  ['water', 'Water'],
  ['pressure', 'Pressure'],
  ['household', 'Household'],
  ['place', 'The place'],
] as const;

/** What the decision hangs on: readings near their flip, and questions nobody has asked. */
function useLooks(job: JobContext, sized: boolean): { study: DesignStudy | null; turns: Turns | null } {
  const { known, rules, decision, parts, errors } = job;
  const d = decision.value;
  const key = shelfKey(parts, rules);
  const decided = d?.kind === 'recommendation' ? d : null;
  const study = useCore('study', decided && sized ? [key, known, errors, decided.chosen.design, decided.contenders, decided.risk] : null);
  const turns = useCore('turns', decided || d?.kind === 'nothing-fits' ? [key, known, decided?.chosen.design ?? null] : null);
  return { study: study.value ?? null, turns: turns.value ?? null };
} // prettier-ignore

/** What the house has: every reading with when, who and with what; doubts beside it; what is assumed, openly. */
export default function Gauge(): ReactElement {
  const job = useJob();
  const { record, known, rules } = job;
  const dispatch = useAppDispatch();
  const site = useMemo(() => siteFrom(known, rules), [known, rules]);
  const { study, turns } = useLooks(job, site.ok);
  const next = useNext(study, turns);
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
  return (
    <div className="gauge">
      <div className="gauge-entry">
        {nothing && (
          <p className="note">
            First visit. Begin with the source, then run the cold tap and read TDS and temperature. A decision is
            possible once source, TDS, temperature, a pressure and the people are in; everything else may be assumed and
            is shown as assumed.
          </p>
        )}
        <div className="gauge-groups">
          {GROUPS.slice(0, all ? undefined : 2).map(([group, title]) => (
            <Group key={group} group={group} title={title} assumed={site.assumed} />
          ))}
        </div>
      </div>
      <aside className="gauge-side">
        <Conclusion next={next} />
        <Doubts />
        <Assumptions site={site} flips={study?.flips ?? null} turns={turns} />
        {all && (
          <>
            <h2 className="zone-title">Laboratory</h2>
            <LabReport />
          </>
        )}
      </aside>
      {phone && <ThumbNext next={next} />}
    </div>
  );
}

function Group({
  group,
  title,
  assumed,
}: {
  group: (typeof GROUPS)[number][0];
  title: string;
  assumed: readonly Assumed[];
}): ReactElement {
  const { record, known, id, add, personName, instruments } = useJob();
  const doubts = useMemo(
    () => jobDoubts(known, record.placed).filter((d) => record.dismissed[d.code] === undefined),
    [known, record],
  );
  const [instrument, setInstrument] = useDraft(`instrument.${group}`);
  const names = useMemo(() => {
    const used = Object.values(record.readings).flatMap((r) => (r.instrument ? [r.instrument] : []));
    return [...new Set([...instruments.filter((i) => i.retired !== true).map((i) => i.name), ...used])];
  }, [instruments, record.readings]);
  const measured = group === 'water' || group === 'pressure';
  const inHand = measured ? instrument : '';
  const meter = instruments.find((i) => i.name.toLowerCase() === inHand.trim().toLowerCase());
  const perUSCm = useMemo(() => (group === 'water' ? tdsPerUSCm(record.known) : undefined), [group, record.known]);
  const keys = FIELD_KEYS.filter((k) => gaugeField(k).group === group && fieldVisible(k, known));
  const takenAs = (k: FieldKey): string | undefined => {
    const a = record.readings[k] === undefined ? assumed.find((x) => x.field === k) : undefined;
    return a && assumedWords(a);
  };
  return (
    <section aria-labelledby={`group-${group}`}>
      <div className="gauge-group-head">
        <h2 className="zone-title" id={`group-${group}`}>
          {title}
        </h2>
        {measured && <InstrumentInHand title={title} names={names} value={instrument} onChange={setInstrument} />}
      </div>
      <div className="gauge-fields">
        {keys.map((k) => (
          <Reading
            key={`${id}-${k}`}
            field={k}
            instrument={meter && !canRead(meter, k) ? '' : inHand}
            meter={meter}
            fact={record.readings[k]}
            assumed={takenAs(k)}
            ofTheDay={record.ofTheDay[k]}
            taken={record.taken[k]}
            chosen={record.uses[k]?.reason}
            doubt={doubts.find((d) => d.fields[0] === k)?.text}
            weight={doubts.find((d) => d.fields[0] === k)?.weight ?? 'none'}
            perUSCm={k === 'feedTdsMgL' ? (meter?.tdsFactor ?? perUSCm) : undefined}
            jobId={id}
            add={add}
            personName={personName}
          />
        ))}
      </div>
      {group === 'household' && <TheirDay />}
      {group === 'place' && <Cupboard />}
    </section>
  );
}

const InstrumentInHand = memo(function InstrumentInHand(p: {
  title: string;
  names: string[];
  value: string;
  onChange: (name: string) => void;
}): ReactElement {
  return (
    <Autocomplete
      aria-label={`Instrument for ${p.title.toLowerCase()}`}
      placeholder="instrument in hand"
      size="xs"
      data={p.names}
      value={p.value}
      onChange={p.onChange}
      maxLength={80}
    />
  );
});

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
