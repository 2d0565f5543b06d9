import { baseUnit, formatReading, gaugeField, siteFrom, type FieldKey } from '@katharos/core';
import { useMemo, type ReactElement } from 'react';
import { useJob } from '../../app/useJob.ts';

const SHOWN: readonly FieldKey[] = [
  'source',
  'feedTdsMgL',
  'hardnessMgL',
  'disinfectant',
  'temperatureC',
  'coldestC',
  'staticPressureBar',
  'runningPressureBar',
  'highestPressureBar',
  'switchLowBar',
  'litresADay',
  'largestDrawL',
  'metalAfter',
  'socket',
  'cupboardWidthMm',
];

/** What the decision was made from, read or assumed. */
export function KnownValues(): ReactElement {
  const { record, rules } = useJob();
  const site = useMemo(() => siteFrom(record.known, rules), [record.known, rules]);
  return (
    <>
      <h2 className="zone-title">What is known</h2>
      <table className="quiet-table known">
        <tbody>
          {SHOWN.map((key) => {
            const f = gaugeField(key);
            const fact = record.readings[key];
            const assumed = site.assumed.find((a) => a.field === key);
            const value = fact?.value ?? assumed?.value;
            if (value === undefined) return null;
            const shown =
              f.type === 'choice' ? (f.options[String(value)] ?? String(value)) : formatReading(Number(value), 4);
            const unit = f.type === 'choice' ? '' : baseUnit(f.kind);
            return (
              <tr key={key} className={fact ? undefined : 'assumed'}>
                <th scope="row">{f.label}</th>
                <td className="num">
                  <b>{shown}</b> {unit}
                </td>
                <td className="known-from">{fact ? (fact.instrument ?? 'asked') : `assumed: ${assumed?.why ?? ''}`}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </>
  );
}
