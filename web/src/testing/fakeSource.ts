import type { StoredInstrument } from '@katharos/contract';

/** Stands in for a stream from a meter: what it sends is said by the test. */
export class FakeSource {
  static last: FakeSource | undefined;
  onmessage: ((e: { data: string }) => void) | null = null;
  onerror: (() => void) | null = null;
  closed = false;
  readonly url: string;
  constructor(url: string) {
    this.url = url;
    FakeSource.last = this;
  }
  close(): void {
    this.closed = true;
  }
}

/** A pen of the firm's that reads what is dissolved. */
export const pen: StoredInstrument = {
  id: '5f0c4b1e-7777-4777-a777-000000000001', name: 'pen A', what: 'pen', checkEveryDays: null, checks: [], version: 0, address: null,
  reads: [{ kind: 'concentration', unit: 'mg/L', min: 0, max: 5000, errorFixed: 2, errorShare: 0.02 }],
}; // oxfmt-ignore
