import { siteFrom, type Assumed, type Site } from '../gauge/site.ts';
import { runSheet, type RunStep } from '../flush/runsheet.ts';
import { missingParts, type Design } from '../system/design.ts';
import { buildLine, lineFaults, type Line } from '../system/line.ts';
import { operate, plantOf, type Operating } from '../system/plant.ts';
import { profileLine, type Profile } from '../system/profile.ts';
import { drainProblem, holesOf, type Hole } from '../plumb/holes.ts';
import { jointSheets, type JointSheet } from '../plumb/joints.ts';
import { pickList, type PickItem } from '../plumb/picklist.ts';
import type { SizeInput } from '../size/kinds/candidates.ts';

/** One design in one house, with everything the six parts of the job draw on. */
export interface SystemView {
  readonly site: Site;
  readonly assumed: readonly Assumed[];
  readonly design: Design;
  readonly line: Line;
  readonly faults: readonly string[];
  readonly today: Operating;
  readonly worst: Operating;
  readonly profileToday: Profile;
  readonly profileWorst: Profile;
  readonly joints: readonly JointSheet[];
  readonly holes: readonly Hole[];
  readonly drainProblem: string | null;
  readonly picks: readonly PickItem[];
  readonly sheet: readonly RunStep[];
}

export type SystemResult =
  { readonly ok: true; readonly view: SystemView } | { readonly ok: false; readonly reason: string };

/** Works a design out in a house: its Line, its physics today and in the worst season, and its work sheets. */
export function viewSystem(input: SizeInput, design: Design): SystemResult {
  const { catalogue, rules } = input;
  const missing = missingParts(design, catalogue);
  if (missing.length > 0)
    return { ok: false, reason: `This design names parts the shelf no longer has: ${missing.join(', ')}.` };
  const result = siteFrom(input.known, rules);
  if (!result.ok) return { ok: false, reason: 'Readings this system was designed from are missing.' };
  const { site, assumed } = result;
  const line = buildLine(design, catalogue, site);
  const plantToday = plantOf(design, catalogue, site, 'today');
  const plantWorst = plantOf(design, catalogue, site, 'worst');
  const today = operate(plantToday, site, 'today', site.wantedTapFlowLMin);
  const worst = operate(plantWorst, site, 'worst', site.wantedTapFlowLMin);
  return {
    ok: true,
    view: {
      site,
      assumed,
      design,
      line,
      faults: lineFaults(line),
      today,
      worst,
      profileToday: profileLine(line, catalogue, site, plantToday, today),
      profileWorst: profileLine(line, catalogue, site, plantWorst, worst),
      joints: jointSheets(line, rules),
      holes: holesOf(design, catalogue, site, rules),
      drainProblem: drainProblem(site),
      picks: pickList(line, design, catalogue, rules),
      sheet: runSheet(line, design, catalogue, site, rules, today),
    },
  };
}
