import { formatNumber, formatReading } from '../quantity/format.ts';
import { kindRow } from '../parts/kinds.ts';
import type { Part } from '../parts/catalogue.ts';
import type { HouseRules } from '../rules/rules.ts';
import { highestRecovery } from '../size/judge/failures.ts';
import { ofWork, type Component, type System } from '../system/system.ts';
import { viewOf, type SystemView } from './view.ts';

/** What is said of a part somebody holds in the hand for a place of a system. */
export interface SwapSaid {
  /** it does not go there: nothing is written down */
  readonly barred: boolean;
  readonly text: string;
}

/** A system with another part in one place. */
const withPart = (system: System, id: string, part: Part): System => ({
  ...system,
  components: system.components.map((c) => (c.id === id ? { ...c, part } : c)),
});

/** Where else in a system a part of that kind stands, in words. */
function placesOf(system: System, part: Part): string {
  return system.components.filter((c) => kindRow(c.kind).partKind === part.kind).map((c) => c.slot).join(' or ');
} // oxfmt-ignore

/**
 * Looks at a part before it goes into a place where something is changed: a stage mixed up, a part that bears too little, an
 * element the restrictor is not for. Empty where nothing is to be said.
 * @param view the system as it stands, worked out @param into the component it is held for
 */
export function swapSaid(view: SystemView, into: Component, part: Part, rules: HouseRules): SwapSaid[] {
  const { system, site } = view;
  const wanted = kindRow(into.kind);
  if (wanted.partKind !== part.kind) {
    const there = placesOf(system, part);
    return [
      {
        barred: true,
        text: `${part.name} does not go where ${into.slot} stands${there === '' ? '; this system has no place for it' : `: its place is ${there}`}. Two bowls are mixed up.`,
      },
    ];
  }
  if (part.id === into.part?.id) return [];
  const said: SwapSaid[] = [];
  const bears = Math.min(part.maxPressureBar, into.housing?.maxPressureBar ?? Infinity);
  if (wanted.chain === 'feed' && bears < site.highestBar)
    said.push({
      barred: true,
      text: `${part.name} bears ${formatReading(bears)} bar; this supply reaches ${formatReading(site.highestBar)}.`,
    });
  if (part.kind === 'element') said.push(...elementSaid(view, into, part, rules));
  return said;
}

/** What another element does to the restrictor that stands there, and to what is expected. */
function elementSaid(view: SystemView, into: Component, part: Part & { kind: 'element' }, rules: HouseRules): SwapSaid[] {
  const n = formatNumber;
  const after = viewOf(withPart(view.system, into.id, part), view.site, view.assumed, rules);
  const [was, is] = [view.today, after.today].map((o) => o.middle.out);
  if (!was || !is) return [];
  const said: SwapSaid[] = [
    {
      barred: false,
      text: `Another element than the one that stood there: it makes ${n(is.permeateLDay, 2)} L a day running instead of ${n(was.permeateLDay, 2)}, with ${n(is.permeateTdsMgL, 2)} mg/L instead of ${n(was.permeateTdsMgL, 2)}. What is expected of it follows.`,
    },
  ];
  const most = highestRecovery(view.site, part);
  if (ofWork(view.system, 'restricts').length > 0 && is.recovery > most)
    said.push({
      barred: false,
      text: `The restrictor that stands there is too tight for it: it would keep ${n(100 * is.recovery, 2)} % of the feed, and this water bears ${n(100 * most, 2)} % before it scales. Change the restrictor with it.`,
    });
  return said;
} // oxfmt-ignore
