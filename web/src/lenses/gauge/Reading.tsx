import {
  formatReading,
  gaugeField,
  readsOf,
  type FieldKey,
  type Instrument,
  type QuantityKind,
  type ReadingFact,
} from '@katharos/core';
import { Button, NativeSelect } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { memo, useCallback, type ReactElement } from 'react';
import { useAppDispatch } from '../../data/store.ts';
import type { JobContext } from '../../job/useJob.ts';
import { tried } from '../../data/session.ts';
import { QuantityField } from '../../ui/QuantityField.tsx';
import { fieldId, shortDate } from './fieldWords.ts';
import { SeveralChoices } from './SeveralChoices.tsx';
import { ReadingHistory } from './ReadingHistory.tsx';
import { Receive } from '../../job/wire/Receive.tsx';

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
  /** where that factor comes from */
  readonly perUSCmFrom: string | undefined;
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
export const Reading = memo(function Reading(p: ReadingProps): ReactElement {
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
      data-field={field}
      data-doubt={doubt === undefined ? 'none' : p.weight}
      data-assumed={fact === undefined && p.assumed !== undefined}
    >
      {f.type === 'choice' && f.severalOr !== undefined ? (
        <SeveralChoices
          field={field}
          of={f}
          value={typeof fact?.value === 'string' ? fact.value : null}
          description={who}
          onTake={take}
        />
      ) : f.type === 'choice' ? (
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
          perUSCmFrom={p.perUSCmFrom}
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
            <Receive of={f} meter={meter} near={typeof fact?.value === 'number' ? fact.value : null} onTake={take} />
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
