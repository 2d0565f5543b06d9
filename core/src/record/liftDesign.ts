import * as z from 'zod';
import type { Catalogue } from '../parts/catalogue.ts';
import type { HouseRules } from '../rules/rules.ts';
import type { Known } from '../gauge/fields.ts';
import { DesignSchema, missingParts } from '../system/design.ts';
import { makeVersion } from './approve.ts';
import type { Unreadable } from './lift.ts';
import { DOCUMENT_VERSION, StoredVersionSchema, type DesignVersion } from './version.ts';

/** A design of the first kind: parts by their ids, resolved anew from the shelf at every look. */
const FirstDesignSchema = z.object({
  id: z.uuid(),
  number: z.number().int(),
  design: DesignSchema,
  sentence: z.string(),
  reason: z.string(),
  coreVersion: z.string(),
  at: z.iso.datetime(),
  by: z.uuid(),
});

/** The shelf and the house a design of the first kind is resolved by: as they are at the change of version. */
export interface AtTheChange {
  readonly catalogue: Catalogue;
  readonly rules: HouseRules;
  /** what was known when it was approved, as far as the facts tell */
  readonly known: (at: string) => Known;
  readonly before: DesignVersion | null;
}

/**
 * Reads a stored design of any age. One of the first kind is kept as "shelf as at the change of version": its parts are
 * resolved once, by the shelf given, and stay so; its components are named as its facts name them.
 */
export function liftDesign(raw: unknown, shelf: AtTheChange): DesignVersion | Unreadable {
  const stored = StoredVersionSchema.safeParse(raw);
  if (stored.success) return stored.data as DesignVersion;
  const first = FirstDesignSchema.safeParse(raw);
  const id: unknown = typeof raw === 'object' && raw !== null ? Reflect.get(raw, 'id') : '';
  const said = { id: typeof id === 'string' ? id : '', what: 'design' as const, said: JSON.stringify(raw).slice(0, 2000) };
  if (!first.success || missingParts(first.data.design, shelf.catalogue).length > 0) return said;
  const { design, number, sentence, reason, coreVersion, ...who } = first.data;
  // a name is never used twice in a job: what is new in a later version is named with its number
  let n = 0;
  try {
    const made = makeVersion({ known: shelf.known(who.at), catalogue: shelf.catalogue, rules: shelf.rules }, { design }, {
      ...who,
      reason,
      against: reason === '' ? '' : sentence,
      before: shelf.before,
      shelf: 'as at the change of version',
      newId: () => `${String(number)}-${String(++n)}`,
    });
    const system = shelf.before ? made.system : namedByKind(made.system);
    return {
      ...made,
      v: DOCUMENT_VERSION,
      number,
      system,
      sheet: shelf.before ? made.sheet : renamed(made.sheet, made.system, system),
      judged: { ...made.judged, sentence: reason === '' ? sentence : made.judged.sentence, coreVersion },
    };
  } catch (e) {
    if (e instanceof RangeError) return said;
    throw e;
  }
} // oxfmt-ignore

type System = DesignVersion['system'];

/** The first version's components by the names its facts know: their kind, numbered from the second on. */
function namedByKind(system: System): System {
  const seen = new Map<string, number>();
  const names = new Map<string, string>();
  for (const c of system.components) {
    const n = (seen.get(c.kind) ?? 0) + 1;
    seen.set(c.kind, n);
    names.set(c.id, n === 1 ? c.kind : `${c.kind}-${String(n)}`);
  }
  const of = (id: string): string => names.get(id) ?? id;
  return {
    components: system.components.map((c) => ({ ...c, id: of(c.id) })),
    links: system.links.map((l) => ({
      ...l,
      from: { ...l.from, component: of(l.from.component) },
      to: { ...l.to, component: of(l.to.component) },
    })),
  };
}

/** Steps with the names of another naming of the same system. */
function renamed(sheet: DesignVersion['sheet'], from: System, to: System): DesignVersion['sheet'] {
  const names = new Map(from.components.map((c, i) => [c.id, to.components[i]?.id ?? c.id]));
  const of = (id: string): string => names.get(id) ?? id;
  const key = (k: string): string => (k.startsWith('flush-') ? `flush-${of(k.slice('flush-'.length))}` : k);
  return sheet.map((s) => ({
    ...s,
    key: key(s.key),
    ...(s.needs ? { needs: s.needs.map(key) } : {}),
    wets: s.wets.map(of),
    of: s.of.map(of),
  }));
}
