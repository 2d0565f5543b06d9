import { CORE_VERSION } from '../coreVersion.ts';
import type { Site } from '../gauge/site.ts';
import type { Checks } from '../prove/checks.ts';
import type { OwnErrors, ProofKey, ProofReadings } from '../prove/fields.ts';
import { proveFilters } from '../prove/filters.ts';
import { keptVerdict, type KeptVerdict } from '../prove/kept.ts';
import { prove } from '../prove/verdict.ts';
import { ofWork, type System } from '../system/system.ts';

export type JudgedProof =
  | { readonly ok: false; readonly missing: readonly ProofKey[] }
  | { readonly ok: true; readonly verdict: KeptVerdict };

/**
 * Judges a system by its readings, with a membrane or without, as it is kept with them.
 * @param meterError of the pen, share of the reading @param checks what was tried beside the readings @param own errors of instruments that are known
 */
export function judgeProof(
  r: ProofReadings,
  system: System,
  site: Site,
  meterError: number,
  checks: Checks = {},
  own: OwnErrors = {},
): JudgedProof {
  const result =
    ofWork(system, 'separates').length > 0
      ? prove(r, system, site, meterError, checks, own)
      : proveFilters(r, system, site, checks);
  return result.ok ? { ok: true, verdict: keptVerdict(result.verdict, CORE_VERSION) } : result;
}
