import {
  formatQuantity,
  formatNumber,
  PROOF_CHECKS,
  PROOF_KEYS,
  proofField,
  type CheckKey,
  type FactOf,
} from '@katharos/core';
import { Table } from '@mantine/core';
import dayjs from 'dayjs';
import type { ReactElement } from 'react';

type Proof = FactOf<'proof'>;
interface Row {
  readonly label: string;
  readonly of: (p: Proof) => string | null;
}

const percent = (x: number | null | undefined, digits: number): string | null =>
  x === null || x === undefined ? null : `${formatNumber(100 * x, digits)} %`;

const figure = (x: number | undefined, unit: string): string | null =>
  x === undefined ? null : `${formatNumber(x, 3)} ${unit}`;

const FIGURES: readonly Row[] = [
  { label: 'Held back', of: (p) => percent(p.judged?.rejection, 3) },
  { label: 'Flow against new', of: (p) => percent(p.judged?.flowAgainstNew, 2) },
  { label: 'Salt passage against new', of: (p) => percent(p.judged?.passageAgainstNew, 2) },
  { label: 'Water permeability, 25 °C', of: (p) => figure(p.judged?.element?.waterLDayBar, 'L/day for each bar') },
  { label: 'Salt permeability, 25 °C', of: (p) => figure(p.judged?.element?.saltLDay, 'L/day') },
  { label: 'Flow at the rating’s conditions', of: (p) => figure(p.judged?.element?.normalisedFlowLDay, 'L/day') },
  { label: 'Salt passage at the rating’s conditions', of: (p) => percent(p.judged?.element?.normalisedPassage, 2) },
];
const READ: readonly Row[] = PROOF_KEYS.map((k): Row => {
  const { label, kind, unit } = proofField(k);
  return { label, of: (p) => (p.readings[k] ? formatQuantity(p.readings[k].value, kind, unit) : null) };
});
const TRIED: readonly Row[] = (Object.keys(PROOF_CHECKS) as CheckKey[]).map((k) => ({
  label: PROOF_CHECKS[k].label,
  of: (p) => (p.checks?.[k] === undefined ? null : p.checks[k] === 'works' ? 'yes' : 'no'),
}));

const GRADE = { good: 'good', watch: 'watch', act: 'act' } as const;

/** Proofs beside each other, the oldest first: what was read, and what it said. Only what one of them has a figure of. */
export function SideBySide({ proofs, heads }: { readonly proofs: readonly Proof[]; readonly heads?: readonly string[] }): ReactElement {
  // two of one day are told apart by the hour
  const sameDay = new Set(proofs.map((p) => dayjs(p.at).format('YYYY-MM-DD'))).size < proofs.length;
  const rows = [...FIGURES, ...READ, ...TRIED].filter((r) => proofs.some((p) => r.of(p) !== null));
  return (
    <div className="side-by-side">
      <Table withRowBorders verticalSpacing={4} horizontalSpacing="sm">
        <Table.Thead>
          <Table.Tr>
            <Table.Th />
            {proofs.map((p, i) => (
              <Table.Th key={p.id} scope="col">
                {heads?.[i] !== undefined && <small>{heads[i]}</small>}
                {dayjs(p.at).format(sameDay ? 'D MMM YYYY, HH:mm' : 'D MMM YYYY')}{' '}
                {p.judged && (
                  <span className="grade" data-grade={p.judged.grade}>
                    {GRADE[p.judged.grade]}
                  </span>
                )}
              </Table.Th>
            ))}
          </Table.Tr>
        </Table.Thead>
        <Table.Tbody>
          {rows.map((r) => (
            <Table.Tr key={r.label}>
              <Table.Th scope="row">{r.label}</Table.Th>
              {proofs.map((p) => (
                <Table.Td key={p.id}>{r.of(p) ?? ''}</Table.Td>
              ))}
            </Table.Tr>
          ))}
        </Table.Tbody>
      </Table>
    </div>
  );
} // oxfmt-ignore

/** A repair: the proof that found it, what was done, and the one read after it. */
export function Repair({ after, proofs }: { readonly after: Proof; readonly proofs: readonly Proof[] }): ReactElement | null {
  if (!after.mended) return null;
  const before = proofs.find((p) => p.id === after.mended?.proof);
  return (
    <section aria-label="The repair">
      <h2 className="zone-title">Before and after</h2>
      <p>
        Done between: <b>{after.mended.done}</b>
      </p>
      {before ? (
        <SideBySide proofs={[before, after]} heads={['before', 'after']} />
      ) : (
        <p className="small">The proof it was found by was taken back.</p>
      )}
    </section>
  );
} // oxfmt-ignore
