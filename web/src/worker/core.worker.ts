import {
  bandsOf,
  decide,
  liveDay,
  seasonsOf,
  siteFrom,
  studyDesign,
  viewSystem,
  type Catalogue,
  type Decision,
  type Design,
  type Draw,
  type HouseRules,
  type Known,
  type SizeInput,
} from '@katharos/core';
import { expose } from 'comlink';
import { z } from 'zod';

// zod would try eval, which the content security policy forbids
z.config({ jitless: true });

/** The firm's parts and rules, sent once and named by a key after that: a question then carries only what is known. */
const shelves = new Map<string, { readonly catalogue: Catalogue; readonly rules: HouseRules }>();
type Errors = SizeInput['errors'];
const inputOf = (key: string, known: Known, errors?: Errors): SizeInput => {
  const shelf = shelves.get(key);
  if (!shelf) throw new Error('the shelf has not come yet');
  return { known, ...shelf, errors };
};
const siteOf = (key: string, known: Known) => {
  const { rules, catalogue } = inputOf(key, known);
  const r = siteFrom(known, rules);
  return r.ok ? { site: r.site, catalogue } : null;
};

const core = {
  setShelf: (key: string, catalogue: Catalogue, rules: HouseRules): void => {
    const [oldest] = shelves.keys();
    if (shelves.size >= 3 && oldest !== undefined) shelves.delete(oldest);
    shelves.set(key, { catalogue, rules });
  },
  decide: (key: string, known: Known): Decision => decide(inputOf(key, known)),
  study: (key: string, known: Known, errors: Errors, design: Design, contenders: readonly Design[]) =>
    studyDesign(inputOf(key, known, errors), design, contenders),
  bands: (key: string, known: Known, errors: Errors, design: Design) => bandsOf(inputOf(key, known, errors), design),
  view: (key: string, known: Known, design: Design) => viewSystem(inputOf(key, known), design),
  day: (key: string, known: Known, design: Design, draws: readonly Draw[], temperatureC: number) => {
    const at = siteOf(key, known);
    return at && liveDay(design, at.catalogue, at.site, draws, temperatureC);
  },
  seasons: (key: string, known: Known, design: Design) => {
    const at = siteOf(key, known);
    return at && seasonsOf(design, at.catalogue, at.site);
  },
};
export type CoreWorker = typeof core;
expose(core);
