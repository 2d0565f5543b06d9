import { feedWaterAt, siteFrom, supplyOf, type Assumed, type Site } from '../gauge/site.ts';
import { runSheet } from '../flush/runsheet.ts';
import type { RunStep } from '../facts/step.ts';
import { drainProblem, holesOf, type Hole } from '../plumb/holes.ts';
import { jointSheets, type JointSheet } from '../plumb/joints.ts';
import { pickList, type PickItem } from '../plumb/picklist.ts';
import type { HouseRules } from '../rules/rules.ts';
import { choiceFor, type Proposal } from '../size/decide.ts';
import type { SizeInput } from '../size/kinds/candidates.ts';
import { operateWithout } from '../run/withoutMembrane.ts';
import { buildSystem } from '../system/build.ts';
import { missingParts } from '../system/design.ts';
import { systemFaults } from '../system/legal.ts';
import { systemInHouse, seasonTemperatureC, type Season } from '../system/inHouse.ts';
import { operate, type Operating } from '../run/operate.ts';
import { project } from '../system/project.ts';
import type { Profile } from '../system/profile.ts';
import { solve } from '../system/solve.ts';
import { branchOf, ofWork, type System } from '../system/system.ts';

/** One system in one house, with everything the six parts of the job draw on. */
export interface SystemView {
  readonly site: Site;
  readonly assumed: readonly Assumed[];
  readonly system: System;
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
  | { readonly ok: true; readonly view: SystemView }
  | { readonly ok: false; readonly reason: string };

/** What a system does in a season: its fills, or its open tap. */
export function operateIn(system: System, site: Site, season: Season): Operating {
  const plant = systemInHouse(system, site, season);
  return plant ? operate(plant, site, season, site.wantedTapFlowLMin) : operateWithout(system, site, season);
}

/** The Line's figures in a season: the tank half full, the tap open, solved. */
export function profileIn(system: System, site: Site, season: Season, o: Operating): Profile {
  const house = {
    supply: supplyOf(site, season),
    water: feedWaterAt(site, seasonTemperatureC(site, season)),
    airBar: site.airBar,
  };
  const tanks = Object.fromEntries(
    ofWork(system, 'stores').map((t) => [t.id, { litres: o.middleL, tdsMgL: o.fill.tankTdsMgL }]),
  );
  const tap = system.components.find((c) => c.kind === 'tap');
  const solved = solve(system, house, { tanks, opening: tap ? { [tap.id]: 1 } : {} });
  const { points, links } = project(system, solved, house);
  const limits = system.components
    .filter((c) => branchOf(c) === 'feed' && c.part !== null && c.kind !== 'feed')
    .map((c) => Math.min(c.part?.maxPressureBar ?? Infinity, c.housing?.maxPressureBar ?? Infinity));
  const w = solved.working;
  // what the membrane must overcome before a drop passes: inlet less what the product pushes back less the driving mean
  const back = points.find((p) => p.id === system.components.find((c) => c.kind === 'non-return')?.id)?.pressureBar ?? 0;
  return {
    points,
    passing: Object.fromEntries([...links].map(([id, p]) => [id, { fromBar: p.fromBar, toBar: p.toBar, flowLMin: p.flowLMin, tdsMgL: p.tdsMgL }])),
    closeBar: o.fill.closeBar,
    osmoticBar: w ? Math.max(0, w.inletBar - back - w.out.netDrivingPressureBar) : 0,
    tankL: o.middleL,
    tankFullL: o.fill.waterL,
    limitBar: Math.min(...limits),
  };
} // oxfmt-ignore

/** Works a system out in a house: its physics today and in the worst season, the Line, and its work sheets. */
export function viewOf(system: System, site: Site, assumed: readonly Assumed[], rules: HouseRules): SystemView {
  const today = operateIn(system, site, 'today');
  const worst = operateIn(system, site, 'worst');
  const holes = holesOf(system, site, rules);
  return {
    site,
    assumed,
    system,
    faults: systemFaults(system),
    today,
    worst,
    profileToday: profileIn(system, site, 'today', today),
    profileWorst: profileIn(system, site, 'worst', worst),
    joints: jointSheets(system, rules, site.stopValveThread),
    holes,
    drainProblem: ofWork(system, 'separates').length > 0 ? drainProblem(site, rules) : null,
    picks: pickList(system, rules, holes, site.stopValveThread),
    sheet: runSheet(system, rules, today),
  };
}

/** Works a design, or filters, out in a house, as it would stand if it were approved now. */
export function viewSystem(input: SizeInput, proposed: Proposal): SystemResult {
  const { catalogue, rules } = input;
  const missing = 'design' in proposed ? missingParts(proposed.design, catalogue) : [];
  if (missing.length > 0)
    return { ok: false, reason: `This design names parts the shelf no longer has: ${missing.join(', ')}.` };
  const result = siteFrom(input.known, rules, input.placed);
  if (!result.ok) return { ok: false, reason: 'Readings this system was designed from are missing.' };
  const { site, assumed } = result;
  return { ok: true, view: viewOf(buildSystem(choiceFor(proposed, catalogue), catalogue, site), site, assumed, rules) };
}
