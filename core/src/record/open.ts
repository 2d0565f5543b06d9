import type { Catalogue } from '../parts/catalogue.ts';
import type { HouseRules } from '../rules/rules.ts';
import type { Fact } from '../facts/facts.ts';
import { openFacts, type Unreadable } from './lift.ts';
import { liftDesign } from './liftDesign.ts';
import { readJob } from '../facts/record.ts';
import type { DesignVersion } from './version.ts';

/** A job's stored documents in today's shape. */
export interface OpenedDocuments {
  readonly facts: readonly Fact[];
  /** oldest first */
  readonly designs: readonly DesignVersion[];
  readonly unreadable: readonly Unreadable[];
}

/**
 * Opens a job's stored designs and facts, of any age. What cannot be read is told and stands in nobody's way.
 * @param shelf what designs of the first kind are resolved by
 */
export function openJobDocuments(
  storedDesigns: readonly unknown[],
  storedFacts: readonly unknown[],
  shelf: { readonly catalogue: Catalogue; readonly rules: HouseRules },
): OpenedDocuments {
  const designs: DesignVersion[] = [];
  const unreadable: Unreadable[] = [];
  // only a design of the first kind asks what was known when it was approved
  let plain: readonly Fact[] | null = null;
  const known = (at: string) => {
    plain ??= openFacts(storedFacts, []).facts;
    return readJob(plain.filter((f) => Date.parse(f.at) <= Date.parse(at))).known;
  };
  for (const raw of storedDesigns) {
    const d = liftDesign(raw, { ...shelf, known, before: designs.at(-1) ?? null });
    if ('what' in d) unreadable.push(d);
    else designs.push(d);
  }
  const opened = openFacts(storedFacts, designs);
  return { facts: opened.facts, designs, unreadable: [...unreadable, ...opened.unreadable] };
}
