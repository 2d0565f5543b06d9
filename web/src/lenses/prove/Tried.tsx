import { checksFor, PROOF_CHECKS, type Checks, type System } from '@katharos/core';
import { SegmentedControl } from '@mantine/core';
import type { ReactElement } from 'react';

/** What is tried rather than read: each thing there is, and how it went. */
export function Tried(p: {
  readonly system: System;
  readonly checks: Checks;
  readonly onTried: (checks: Checks) => void;
}): ReactElement | null {
  const there = checksFor(p.system);
  if (there.length === 0) return null;
  return (
    <fieldset className="tried">
      <legend className="zone-title">Tried</legend>
      {there.map((k) => {
        const { label, how } = PROOF_CHECKS[k];
        return (
          <div key={k}>
            <span>
              <b>{label}</b> <small>{how}</small>
            </span>
            <SegmentedControl
              size="xs"
              aria-label={label}
              value={p.checks[k] ?? ''}
              data={[
                { value: '', label: 'not tried' },
                { value: 'works', label: 'it does' },
                { value: 'fails', label: 'it does not' },
              ]}
              onChange={(v) => {
                p.onTried({ ...p.checks, [k]: v === 'works' || v === 'fails' ? v : undefined });
              }}
            />
          </div>
        );
      })}
    </fieldset>
  );
}
