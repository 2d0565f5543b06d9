import type { Instrument } from '@katharos/core';
import { uuidOf } from './ids.ts';

const DAY = 86400000;

/** The made-up firm's meters: three that answer over the wire by a stand-in, the rest read by eye. */
export function demoInstruments(nowMs: number): Instrument[] {
  const by = uuidOf('person imra');
  const ago = (days: number): string => new Date(nowMs - days * DAY).toISOString();
  const make = (name: string, rest: Omit<Instrument, 'id' | 'name'>): Instrument => ({
    id: uuidOf(`instrument ${name}`),
    name,
    ...rest,
  });
  const tds = { kind: 'concentration', unit: 'mg/L', min: 0, max: 5000, errorFixed: 2, errorShare: 0.02 } as const;
  const warmth = { kind: 'temperature', unit: '°C', min: 0, max: 60, errorFixed: 0.5, errorShare: 0 } as const;
  const bar = { kind: 'pressure', unit: 'bar', min: 0, max: 10, errorFixed: 0.1, errorShare: 0 } as const;
  return [
    make('pen A', {
      what: 'pen',
      reads: [tds, warmth],
      checkEveryDays: 90,
      checks: [{ at: ago(21), by, kind: 'concentration', reference: 1000, read: 1008 }],
      address: 'stand-in:pen',
    }),
    make('pen B', {
      what: 'pen',
      reads: [{ ...tds, errorShare: 0.04 }, warmth],
      tdsFactor: 0.5,
      checkEveryDays: 90,
      checks: [{ at: ago(131), by, kind: 'concentration', reference: 1000, read: 972 }],
      address: null,
    }),
    make('gauge 1', {
      what: 'gauge',
      reads: [bar],
      checkEveryDays: 365,
      checks: [{ at: ago(200), by, kind: 'pressure', reference: 4, read: 4.05 }],
      address: null,
    }),
    make('gauge 2', {
      what: 'gauge',
      reads: [{ ...bar, errorFixed: 0.05 }],
      checkEveryDays: 365,
      checks: [{ at: ago(40), by, kind: 'pressure', reference: 4, read: 4.02 }],
      address: 'stand-in:gauge',
    }),
    make('drag hand gauge', {
      what: 'gauge',
      reads: [{ ...bar, errorFixed: 0.2 }],
      checkEveryDays: 365,
      checks: [],
      address: null,
    }),
    make('jug', {
      what: 'jug',
      reads: [{ kind: 'flow', unit: 'L/min', min: 0.02, max: 30, errorFixed: 0.005, errorShare: 0.04 }],
      checkEveryDays: null,
      checks: [],
      address: 'stand-in:jug',
    }),
    make('drop kit', {
      what: 'drop-kit',
      reads: [{ kind: 'hardness', unit: 'mg/L', min: 0, max: 1000, errorFixed: 9, errorShare: 0.02 }],
      checkEveryDays: 365,
      checks: [{ at: ago(60), by, kind: 'hardness', reference: 178, read: 178 }],
      address: null,
    }),
    make('strip', {
      what: 'strip',
      reads: [{ kind: 'concentration', unit: 'mg/L', min: 0, max: 10, errorFixed: 0.05, errorShare: 0.25 }],
      checkEveryDays: null,
      checks: [],
      address: null,
    }),
    make('tape', {
      what: 'tape',
      reads: [
        { kind: 'length', unit: 'cm', min: 0, max: 5000, errorFixed: 3, errorShare: 0 },
        { kind: 'run', unit: 'm', min: 0, max: 40, errorFixed: 0.05, errorShare: 0.02 },
      ],
      checkEveryDays: null,
      checks: [],
      address: null,
    }),
  ];
}
