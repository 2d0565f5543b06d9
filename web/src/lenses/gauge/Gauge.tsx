import {
  canRead,
  FIELD_KEYS,
  formatReading,
  gaugeField,
  jobDoubts,
  readsOf,
  siteFrom,
  tdsPerUSCm,
  type Assumed,
  type FieldKey,
  type Instrument,
  type QuantityKind,
  type ReadingFact,
} from '@katharos/core';
import { Autocomplete, Button, NativeSelect } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { memo, useCallback, useDeferredValue, useEffect, useMemo, type ReactElement } from 'react';
import { useAppDispatch } from '../../app/store.ts';
import { useJob, type JobContext } from '../../app/useJob.ts';
import { DayOfDraws } from '../../day/DayOfDraws.tsx';
import { useDay } from '../../day/useDay.ts';
import { tried } from '../../store/session.ts';
import { useDraft } from '../../store/useDraft.ts';
import { QuantityField } from '../../ui/QuantityField.tsx';
import { usePhone } from '../../ui/usePhone.ts';
import { shelfKey, useCore } from '../../worker/useCore.ts';
import { Assumptions } from './Assumptions.tsx';
import { Cupboard } from './Cupboard.tsx';
import { Conclusion, ThumbNext, useNext } from './Conclusion.tsx';
import { Doubts } from './Doubts.tsx';
import { assumedWords, fieldId, fieldVisible, shortDate } from './fieldWords.ts';
import { LabReport } from './LabReport.tsx';
import { ReadingHistory } from './ReadingHistory.tsx';
import { Receive } from './Receive.tsx';
import './gauge.css';

const GROUPS = [
  ['water', 'Water'],
  ['pressure', 'Pressure'],
  ['household', 'Household'],
  ['place', 'The place'],
] as const;

/** What the house has: every reading with when, who and with what; doubts beside it; what is assumed, openly. */
export default function Gauge(): ReactElement {
  const job = useJob();
  const { record, known, rules, decision, parts, errors } = job;
  const dispatch = useAppDispatch();
  const site = useMemo(() => siteFrom(known, rules), [known, rules]);
  const d = decision.value;
  const study = useCore(
    'study',
    d?.kind === 'recommendation' && site.ok
      ? [shelfKey(parts, rules), known, errors, d.chosen.design, d.contenders]
      : null,
  );
  const turns = useCore(
    'turns',
    d?.kind === 'recommendation' || d?.kind === 'nothing-fits'
      ? [shelfKey(parts, rules), known, d.kind === 'recommendation' ? d.chosen.design : null]
      : null,
  );
  const next = useNext(study.value ?? null, turns.value ?? null);
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
        <Assumptions site={site} flips={study.value?.flips ?? null} turns={turns.value ?? null} />
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

interface ReadingProps extends Pick<JobContext, 'add' | 'personName'> {
  readonly field: FieldKey;
  readonly instrument: string;
  readonly meter: Instrument | undefined;
  readonly fact: ReadingFact | undefined;
  readonly taken: readonly ReadingFact[] | undefined;
  /** what is taken as long as nobody has read it, in words */
  readonly assumed: string | undefined;
  /** why this one of several is in use */
  readonly chosen: string | undefined;
  readonly doubt: string | undefined;
  readonly weight: string;
  /** as the drawn day has it, where nobody has read it since */
  readonly ofTheDay: number | undefined;
  /** mg/L for each µS/cm, where a conductivity may be typed */
  readonly perUSCm: number | undefined;
  readonly jobId: string;
}

/** Readings a meter takes at the tap, here and now. */
const RECEIVED: ReadonlySet<FieldKey> = new Set([
  'feedTdsMgL',
  'temperatureC',
  'staticPressureBar',
  'runningPressureBar',
  'switchLowBar',
  'switchHighBar',
  'runningFlowLMin',
]);

/** The unit the instrument in hand shows for a kind, else the field's own. */
const unitOf = (meter: Instrument | undefined, kind: QuantityKind, own: string): string =>
  (meter && (readsOf(meter, kind) ?? (kind === 'concentration' ? readsOf(meter, 'conductivity') : undefined))?.unit) ??
  own;

/** One reading; drawn again only when its own facts or doubt change. */
const Reading = memo(function Reading(p: ReadingProps): ReactElement {
  const { field, instrument, meter, fact, taken, doubt, jobId, add, personName } = p;
  const f = gaugeField(field);
  const dispatch = useAppDispatch();
  const take = (value: number | string | null, typed: string): void => {
    dispatch(tried(null));
    const base = { kind: 'reading' as const, field, value, typed, ...(fact ? { corrects: fact.id } : {}) };
    // what is asked is read by nobody's meter
    add(instrument === '' || f.type === 'choice' ? base : { ...base, instrument });
    if (value === null && fact)
      notifications.show({
        message: (
          <>
            {f.label} taken back.{' '}
            <Button
              size="compact-xs"
              variant="default"
              onClick={() => {
                add({
                  kind: 'reading',
                  field,
                  value: fact.value,
                  typed: fact.typed,
                  ...(fact.instrument ? { instrument: fact.instrument } : {}),
                });
              }}
            >
              Undo
            </Button>
          </>
        ),
      });
  };
  // what is typed is tried at once: the sentence, the Line and the doubts follow the hand
  const preview = useCallback(
    (value: number | null) => {
      dispatch(tried(value === null ? null : { jobId, values: { [field]: value }, by: 'typing' }));
    },
    [dispatch, field, jobId],
  );
  const who =
    p.ofTheDay !== undefined
      ? `${formatReading(p.ofTheDay)} L by their day below`
      : fact
        ? [fact.instrument, fact.place, personName(fact.by), shortDate(fact.at)].filter(Boolean).join(', ')
        : f.how;
  const several = (taken?.length ?? 0) > 1;
  return (
    <div
      className="reading"
      data-doubt={doubt === undefined ? 'none' : p.weight}
      data-assumed={fact === undefined && p.assumed !== undefined}
    >
      {f.type === 'choice' ? (
        <NativeSelect
          id={fieldId(field)}
          label={f.label}
          size="sm"
          value={typeof fact?.value === 'string' ? fact.value : ''}
          description={who}
          inputWrapperOrder={['label', 'input', 'description', 'error']}
          data={[
            { value: '', label: p.assumed === undefined ? 'not asked yet' : `assumed ${p.assumed}` },
            ...Object.entries(f.options).map(([value, label]) => ({ value, label })),
          ]}
          onChange={(e) => {
            const v = e.currentTarget.value;
            take(v === '' ? null : v, v === '' ? '' : (f.options[v] ?? v));
          }}
        />
      ) : (
        <QuantityField
          id={fieldId(field)}
          draftKey={`${jobId}.${field}`}
          label={f.label}
          kind={f.kind}
          unit={unitOf(meter, f.kind, f.unit)}
          min={f.min}
          max={f.max}
          perUSCm={p.perUSCm}
          placeholder={p.assumed === undefined ? undefined : `assumed ${p.assumed}`}
          current={fact?.typed ?? ''}
          description={who}
          onTake={take}
          onDraft={(parsed) => {
            preview(parsed?.ok ? parsed.value : null);
          }}
        />
      )}
      {f.type === 'quantity' && (
        <div className="reading-acts">
          {meter?.address !== null && RECEIVED.has(field) && meter?.reads.some((r) => r.kind === f.kind) === true && (
            <Receive field={f} meter={meter} near={typeof fact?.value === 'number' ? fact.value : null} onTake={take} />
          )}
          {fact && (
            <ReadingHistory
              jobId={jobId}
              field={field}
              quantity={f}
              inUse={fact}
              taken={taken ?? []}
              reason={p.chosen}
              instrument={instrument}
              add={add}
              personName={personName}
              several={several}
            />
          )}
          {several && <span className="small">one of {taken?.length}</span>}
        </div>
      )}
      {doubt !== undefined && <p className="reading-doubt">{doubt}</p>}
    </div>
  );
});
