import { kindRow, type System } from '@katharos/core';

const PATH = [
  'stop-valve',
  'feed',
  'sediment',
  'carbon',
  'shut-off',
  'gauge',
  'membrane',
  'non-return',
  'sample',
  'tank-tee',
  'tank',
  'polish',
  'tap',
  'restrictor',
  'drain',
] as const;

/** The way water will take, before anything is decided: names without figures. */
export const SKELETON: System = {
  components: PATH.map((kind) => ({ id: kind, kind, slot: kindRow(kind).label, part: null })),
  links: [],
};
