import {
  choiceWords,
  isAsked,
  shownUnit,
  formatReading,
  gaugeField,
  leverRange,
  numberOf,
  siteFrom,
  type FieldKey,
  type QuantityField,
} from '@katharos/core';
import { NativeSelect } from '@mantine/core';
import { useMemo, type ReactElement } from 'react';
import { useJob } from '../../job/useJob.ts';
import { useTrial } from '../../job/useTrial.ts';
import { Scrub } from '../../ui/Scrub.tsx';

const SHOWN: readonly FieldKey[] = [
  'source',
  'aim',
  'feedTdsMgL',
  'hardnessMgL',
  'pH',
  'disinfectant',
  'chlorineMgL',
  'ironMgL',
  'temperatureC',
  'coldestC',
  'warmestC',
  'staticPressureBar',
  'runningPressureBar',
  'highestPressureBar',
  'switchLowBar',
  'litresADay',
  'largestDrawL',
  'patience',
  'storeWish',
  'fridgeMinBar',
  'tapLengthM',
  'tapRiseM',
  'metalAfter',
  'socket',
  'cupboardWidthMm',
  'caresMost',
];

/** What the decision was made from, read or assumed; every figure may be moved to see what follows. */
export function KnownValues(): ReactElement {
  const { record, known, rules, personName } = useJob();
  const site = useMemo(() => siteFrom(known, rules), [known, rules]);
  return (
    <>
      <h2 className="zone-title">What is known</h2>
      <p className="small known-hint">Drag a figure sideways, or use the arrow keys on it, to see what follows.</p>
      <table className="quiet-table known">
        <tbody>
          {SHOWN.map((key) => {
            const fact = record.readings[key];
            const assumed = site.assumed.find((a) => a.field === key);
            const value = known[key] ?? assumed?.value;
            if (value === undefined) return null;
            const tried = known[key] !== record.known[key];
            const from = tried
              ? `read: ${wordsOf(key, record.known[key] ?? null)}`
              : fact
                ? (fact.instrument ?? (isAsked(key) ? 'asked' : `read by ${personName(fact.by)}`))
                : assumed
                  ? `assumed: ${assumed.why}`
                  : record.ofTheDay[key] !== undefined
                    ? 'their day, as drawn'
                    : 'not asked';
            return (
              <tr
                key={key}
                className={tried ? 'tried' : fact || record.ofTheDay[key] !== undefined ? undefined : 'assumed'}
              >
                <th scope="row">{gaugeField(key).label}</th>
                <td className="num">
                  <Value field={key} value={value} tried={tried} />
                </td>
                <td className="known-from">{from}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </>
  );
}

/** Places a figure is shown with. */
function wordsOf(key: FieldKey, value: number | string | null): string {
  if (value === null) return 'nothing';
  const f = gaugeField(key);
  return f.type === 'choice' ? choiceWords(f, value) : `${formatReading(Number(value), 4)} ${shownUnit(f.kind)}`.trim();
}

/** A choice without its explanation, which Gauge gives: the column is narrow. */
const inShort = (label: string): string => label.replace(/:.*$/, '');

function Value({ field, value, tried }: { field: FieldKey; value: number | string; tried: boolean }): ReactElement {
  const { scrub } = useTrial();
  const { record } = useJob();
  const f = gaugeField(field);
  if (f.type === 'choice')
    return (
      <NativeSelect
        variant="unstyled"
        size="xs"
        aria-label={`${f.label}, tried`}
        className="known-choice"
        value={String(value)}
        data={[
          ...Object.entries(f.options).map(([v, label]) => ({ value: v, label: inShort(label) })),
          // several chosen at once stand as one
          ...(Object.hasOwn(f.options, String(value)) ? [] : [{ value: String(value), label: choiceWords(f, value) }]),
        ]}
        onChange={(e) => {
          const v = e.currentTarget.value;
          scrub(field, v === record.known[field] ? null : v);
        }}
      />
    );
  const { min, max } = rangeOf(field, f, numberOf(record.known, field));
  return (
    <Scrub
      label={f.label}
      value={Number(value)}
      min={min}
      max={max}
      text={wordsOf(field, value)}
      changed={tried}
      onScrub={(v) => {
        scrub(field, v);
      }}
      onReset={() => {
        scrub(field, null);
      }}
    />
  );
}

/** The range a figure is moved over: the decision's own, wide enough for what was read, never beyond what it can be. */
function rangeOf(field: FieldKey, f: QuantityField, read: number | undefined): { min: number; max: number } {
  const lever = leverRange(field) ?? { min: f.min, max: f.max };
  return {
    min: Math.max(f.min, Math.min(lever.min, read ?? lever.min)),
    max: Math.min(f.max, Math.max(lever.max, read ?? lever.max)),
  };
}
