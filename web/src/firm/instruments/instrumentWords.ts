import type { Instrument, QuantityKind } from '@katharos/core';

export const WHAT_NAMES: Readonly<Record<Instrument['what'], string>> = {
  pen: 'pen',
  gauge: 'pressure gauge',
  jug: 'jug and watch',
  thermometer: 'thermometer',
  'drop-kit': 'drop kit',
  strip: 'test strip',
  tape: 'tape measure',
  other: 'other',
};

export const KIND_NAMES: Readonly<Record<QuantityKind, string>> = {
  pressure: 'pressure',
  temperature: 'temperature',
  volume: 'volume',
  flow: 'flow',
  dailyVolume: 'litres a day',
  concentration: 'dissolved',
  hardness: 'hardness',
  length: 'length',
  run: 'run of tube',
  duration: 'time',
  acidity: 'pH',
  turbidity: 'turbidity',
  conductivity: 'conductivity',
  count: 'count',
};
