import type { Branch, Line, LineElement, Role } from '@katharos/core';

const PATH: readonly [Role, Branch, string][] = [
  ['stop-valve', 'feed', 'stop valve'],
  ['feed', 'feed', 'feed tee'],
  ['sediment', 'feed', 'sediment'],
  ['carbon', 'feed', 'carbon'],
  ['shut-off', 'feed', 'shut-off'],
  ['gauge', 'feed', 'gauge point'],
  ['membrane', 'feed', 'membrane'],
  ['non-return', 'product', 'non-return'],
  ['sample', 'product', 'sample port'],
  ['tank-tee', 'product', 'tank tee'],
  ['tank', 'tank', 'tank'],
  ['polish', 'product', 'polish'],
  ['tap', 'product', 'tap'],
  ['restrictor', 'concentrate', 'restrictor'],
  ['drain', 'concentrate', 'drain'],
];

/** The way water will take, before anything is decided: names without figures. */
export const SKELETON: Line = {
  elements: PATH.map(([role, branch, label]): LineElement => ({
    id: role,
    role,
    branch,
    label,
    partId: null,
    ports: [],
  })),
  tubes: [],
  joints: [],
};
