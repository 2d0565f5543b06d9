import {
  doubtsOf,
  FIELD_KEYS,
  gaugeField,
  siteFrom,
  type Doubt,
  type FieldKey,
  type ReadingFact,
} from '@katharos/core';
import { Autocomplete, Button, NativeSelect } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { memo, useMemo, type ReactElement } from 'react';
import { Link } from 'react-router';
import { useJob, type JobContext } from '../../app/useJob.ts';
import { useDraft } from '../../store/useDraft.ts';
import { QuantityField } from '../../ui/QuantityField.tsx';
import { assumedWords, fieldVisible, shortDate } from './fieldWords.ts';
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
  const { record, rules } = job;
  const site = useMemo(() => siteFrom(record.known, rules), [record.known, rules]);
  const doubts = useMemo(() => doubtsOf(record.known), [record.known]);
  const nothing = Object.keys(record.readings).length === 0;
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
          {GROUPS.map(([group, title]) => (
            <Group key={group} group={group} title={title} />
          ))}
        </div>
      </div>
      <aside className="gauge-side">
        <h2 className="zone-title">What follows</h2>
        <Conclusion />
        {doubts.length > 0 && (
          <>
            <h2 className="zone-title">Doubts</h2>
            {doubts.map((d) => (
              <p key={d.code} className={d.weight === 'safety' ? 'caution' : 'note'}>
                <b>{gaugeField(d.fields[0] ?? 'source').label}.</b> {d.text}
              </p>
            ))}
          </>
        )}
        <h2 className="zone-title">Assumed, not read</h2>
        {site.assumed.length === 0 && (
          <p className="empty">{site.ok ? 'Nothing: every figure was read.' : 'Nothing yet.'}</p>
        )}
        <ul className="assumptions">
          {site.assumed.map((a) => (
            <li key={a.field}>
              <span className="assumed">
                {gaugeField(a.field).label}: <b>{assumedWords(a)}</b>
              </span>
              <small>{a.why}</small>
            </li>
          ))}
        </ul>
      </aside>
    </div>
  );
}

function Conclusion(): ReactElement {
  const { decision, id, viewFresh } = useJob();
  const d = decision.value;
  if (!d) return <p className="empty">Working it out.</p>;
  return (
    <div aria-live="polite" style={{ opacity: viewFresh || decision.fresh ? 1 : 0.6 }}>
      <p className="gauge-sentence">{d.sentence}</p>
      {d.kind === 'referral' &&
        d.reasons.map((r) => (
          <p key={r} className="caution">
            {r}
          </p>
        ))}
      {d.kind !== 'needs' && (
        <Button component={Link} to={`/jobs/${id}/size`} size="xs" variant="default">
          See the sizing
        </Button>
      )}
    </div>
  );
}

function Group({ group, title }: { group: (typeof GROUPS)[number][0]; title: string }): ReactElement {
  const { record, id, add, personName } = useJob();
  const doubts = useMemo(() => doubtsOf(record.known), [record.known]);
  const [instrument, setInstrument] = useDraft(`instrument.${group}`);
  const used = [...new Set(Object.values(record.readings).flatMap((r) => (r.instrument ? [r.instrument] : [])))];
  const keys = FIELD_KEYS.filter((k) => gaugeField(k).group === group && fieldVisible(k, record.known));
  return (
    <section aria-labelledby={`group-${group}`}>
      <div className="gauge-group-head">
        <h2 className="zone-title" id={`group-${group}`}>
          {title}
        </h2>
        {(group === 'water' || group === 'pressure') && (
          <Autocomplete
            aria-label={`Instrument for ${title.toLowerCase()}`}
            placeholder="instrument in hand"
            size="xs"
            data={used}
            value={instrument}
            onChange={setInstrument}
            maxLength={80}
          />
        )}
      </div>
      <div className="gauge-fields">
        {keys.map((k) => (
          <Reading
            key={`${id}-${k}`}
            field={k}
            instrument={group === 'water' || group === 'pressure' ? instrument : ''}
            fact={record.readings[k]}
            doubt={doubts.find((d) => d.fields[0] === k)}
            jobId={id}
            add={add}
            personName={personName}
          />
        ))}
      </div>
    </section>
  );
}

interface ReadingProps extends Pick<JobContext, 'add' | 'personName'> {
  readonly field: FieldKey;
  readonly instrument: string;
  readonly fact: ReadingFact | undefined;
  readonly doubt: Doubt | undefined;
  readonly jobId: string;
}

/** One reading; drawn again only when its own fact or doubt changes. */
const Reading = memo(function Reading({
  field,
  instrument,
  fact,
  doubt,
  jobId,
  add,
  personName,
}: ReadingProps): ReactElement {
  const f = gaugeField(field);
  const take = (value: number | string | null, typed: string): void => {
    const base = { kind: 'reading' as const, field, value, typed, ...(fact ? { corrects: fact.id } : {}) };
    add(instrument === '' ? base : { ...base, instrument });
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
  const who = fact ? [fact.instrument, personName(fact.by), shortDate(fact.at)].filter(Boolean).join(', ') : f.how;
  return (
    <div className="reading" data-doubt={doubt?.weight ?? 'none'}>
      {f.type === 'choice' ? (
        <NativeSelect
          label={f.label}
          size="sm"
          value={typeof fact?.value === 'string' ? fact.value : ''}
          description={who}
          inputWrapperOrder={['label', 'input', 'description', 'error']}
          data={[
            { value: '', label: 'not asked yet' },
            ...Object.entries(f.options).map(([value, label]) => ({ value, label })),
          ]}
          onChange={(e) => {
            const v = e.currentTarget.value;
            take(v === '' ? null : v, v === '' ? '' : (f.options[v] ?? v));
          }}
        />
      ) : (
        <QuantityField
          draftKey={`${jobId}.${field}`}
          label={f.label}
          kind={f.kind}
          unit={f.unit}
          min={f.min}
          max={f.max}
          current={fact?.typed ?? ''}
          description={who}
          onTake={take}
        />
      )}
      {doubt && <p className="reading-doubt">{doubt.text}</p>}
    </div>
  );
});
