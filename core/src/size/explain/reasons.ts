import { highestIsKnown, type Site } from '../../gauge/site.ts';
import { tapFlowLMin } from '../../hydraulics/outlet.ts';
import { agentOf, carbonOf } from '../../system/carbon.ts';
import { designInSentence } from '../../system/design.ts';
import { outletOf, trainOf } from '../../system/inHouse.ts';
import { reopenShare } from '../../hydraulics/train.ts';
import { formatMinutes, formatNumber, formatReading } from '../../quantity/format.ts';
import { partOf, partsOf, type Catalogue } from '../../parts/catalogue.ts';
import type { DirectRun } from '../../run/openTap.ts';
import { waterAtPressureL } from '../../hydraulics/tank.ts';
import { carbonWork } from '../../treatment/carbon.ts';
import { lampWork, UV_DOSE } from '../../treatment/lamp.ts';
import { RINSE_L } from '../../run/simulateDirect.ts';
import { PRODUCT_TRANSMITTANCE, settle, type SizeInput } from '../kinds/candidates.ts';
import { evaluate, type Evaluation } from '../judge/evaluate.ts';
import { metalAfterWords } from '../../words/treatment.ts';
import { branchBar, branchOutlets, type BranchOutlet } from '../judge/failures.ts';
import { productWater } from '../judge/product.ts';

/** Dissolved salt below which a water is already as pure as most membranes leave a hard one, mg/L. */
const HARDLY_MGL = 50;

/** Reasons of a recommendation, each with its figures. */
export function reasonsFor(e: Evaluation, site: Site, input: SizeInput, working: readonly Evaluation[]): string[] {
  const w = e.worst;
  const n = formatNumber;
  const reasons: string[] = w.direct ? directReasons(e, w.direct, site) : storeReasons(e, site);
  if (w.direct) reasons.push(...againstStore(e, site, working));
  else if (e.design.pumpId !== null) {
    const bare = partsOf(input.catalogue, 'tank')
      .map((t) => evaluate({ ...e.design, pumpId: null, tankId: t.id }, input.catalogue, site, input.rules))
      .sort((a, b) => a.failures.length - b.failures.length || b.worst.usableL - a.worst.usableL)[0];
    const other = working.find((f) => f.design.pumpId === null && f.design.tankId !== null);
    reasons.push(
      other
        ? `A booster pump is worth its socket: without it the best design fills in ${formatMinutes(other.worst.fill.minutes)}${other.year ? ` and sends ${n(other.year.wasteRatio, 2)} L to the drain for each litre over the year` : ''}.`
        : `A booster pump: without one nothing on the shelf does. The same element unpumped: ${lowerFirst(bare?.failures[0]?.text ?? 'the waste is out of proportion.')}`,
    );
  } else if (e.design.permeatePumpId !== null) {
    const other = working.find(
      (f) => f.design.permeatePumpId === null && f.design.pumpId === null && f.design.tankId !== null,
    );
    reasons.push(
      other
        ? permeatePumpReason(e, other)
        : 'A permeate pump, driven by the drain’s own water: without it or a booster nothing on the shelf does.',
    );
  } else reasons.push(`No booster pump: ${formatReading(site.worstBar)} bar at the worst hour is enough.`);
  if (e.design.elementCount > 1)
    reasons.push(
      `${String(e.design.elementCount)} elements in a row: the second lives on the first one’s concentrate, so less is wasted.`,
    );
  if (e.year)
    reasons.push(
      `Over a mean year ${n(e.year.wasteL / 1000, 2)} m³ go to the drain (${n(e.year.wasteRatio, 2)} L for each litre) and it costs about ${n(e.year.cost, 2)} ${input.rules.currency}, ${n(e.year.costPerL, 2)} a litre.`,
    );
  if (!w.direct) reasons.push(...againstDirect(working, site));
  reasons.push(...settle(input.catalogue, site, input.rules, highestIsKnown(input.known)).reasons);
  reasons.push(...carbonReason(e, site, input.catalogue), ...outletReasons(e, site, input.catalogue));
  reasons.push(chemistryWords(e, site, input.catalogue));
  if (site.tdsMgL < HARDLY_MGL)
    reasons.push(
      `The feed carries only ${formatReading(site.tdsMgL, 3)} mg/L as it is: a membrane takes out little that anybody tastes. Ask what they want of it; against chlorine alone carbon will do.`,
    );
  if (site.metalAfter === 'no' && !site.mineralsWanted)
    reasons.push('No remineralisation: no metal pipe follows, and nobody asked for it.');
  if (site.standsWhere !== 'cupboard')
    reasons.push(
      `It does not all stand in the cupboard (${site.standsWhere === 'beside' ? 'part on a side wall or in the next one' : 'basement or utility room'}): measure the tubes there and back, they count in Gauge’s lengths and rise.`,
    );
  else if (!site.cupboard) reasons.push('The cupboard is not measured: whether it stands in it is not known.');
  return reasons;
}

/** What a permeate pump is worth, by the figures it betters only. */
function permeatePumpReason(e: Evaluation, other: Evaluation): string {
  const n = formatNumber;
  const better = [
    ...(e.year && other.year && e.year.wasteRatio < 0.98 * other.year.wasteRatio
      ? [
          `${n(e.year.wasteRatio, 2)} L to the drain for each litre over the year, against ${n(other.year.wasteRatio, 2)}`,
        ]
      : []),
    ...(e.worst.fill.minutes < 0.98 * other.worst.fill.minutes
      ? [`full in ${formatMinutes(e.worst.fill.minutes)}, against ${formatMinutes(other.worst.fill.minutes)}`]
      : []),
    ...(e.year && other.year && e.year.tdsMgL < 0.98 * other.year.tdsMgL
      ? [`drunk at ${n(e.year.tdsMgL, 2)} mg/L, against ${n(other.year.tdsMgL, 2)}`]
      : []),
    ...(e.worst.usableL > 1.02 * other.worst.usableL
      ? [`${n(e.worst.usableL, 2)} L from a full tank, against ${n(other.worst.usableL, 2)}`]
      : []),
  ];
  return `A permeate pump, driven by the drain’s own water, keeps the tank’s push off the membrane${better.length > 0 ? `: ${better.join('; ')} for the best design without one` : ''}.`;
}

/** What the water is like at the tap: pH and buffer, after the minerals where there are any, and whether metal bears it. */
function chemistryWords(e: Evaluation, site: Site, catalogue: Catalogue): string {
  const { worst: w } = e;
  const n = formatNumber;
  const p = productWater(e.design, catalogue, site, w.temperatureC, w.fill.tankTdsMgL, w.tapFlowLMin);
  const own = `${w.direct ? 'The product' : 'The tank’s water'} stands near pH ${n(p.pH, 2)} with ${n(p.alkalinityMgL, 2)} mg/L of alkalinity: carbon dioxide passes the membrane, the buffer does not`;
  const metal = p.metal.acceptable
    ? 'Copper would bear it.'
    : `Copper and brass would not bear it: ${metalAfterWords(p.metal)}.`;
  if (!p.after) return `${own}. ${metal}`;
  return `${own}; ${n(p.after.contactSeconds, 2)} s in the minerals bring it to pH ${n(p.after.pH, 2)} and ${n(p.after.alkalinityMgL, 2)} mg/L. ${metal}`;
}

function lowerFirst(s: string): string {
  return s.charAt(0).toLowerCase() + s.slice(1);
}

/** The recommendation in one sentence. */
export function titleOf(e: Evaluation, site: Site, catalogue: Catalogue): string {
  const { design } = e;
  const list = designInSentence(design, catalogue);
  const plastic = plasticInstead(e, site, catalogue);
  const power = design.pumpId !== null || design.lampId !== null || design.deliveryPumpId !== null;
  if (e.worst.direct)
    return `Put in ${list}${plastic}, without a tank${power ? '' : ' or electricity'}: ${formatNumber(e.worst.tapFlowLMin, 2)} L/min at the tap in the coldest water, a glass in ${formatNumber(e.worst.direct.glassSeconds, 2)} seconds.`;
  const without =
    design.pumpId !== null
      ? ''
      : design.permeatePumpId !== null && !power
        ? ', without electricity'
        : design.permeatePumpId !== null
          ? ', without a booster'
          : ', without a pump';
  return `Put in ${list}${plastic}${without}: ${formatNumber(e.worst.litresADay, 2)} L a day in the coldest water, for ${formatReading(site.litresADay)} used.`;
}

/** What must be done about metal that follows where the minerals leave the water acid. */
function plasticInstead(e: Evaluation, site: Site, catalogue: Catalogue): string {
  const { worst: w, design } = e;
  if (design.mineralId === null || (site.metalAfter !== 'copper' && site.metalAfter !== 'brass')) return '';
  const p = productWater(design, catalogue, site, w.temperatureC, w.fill.tankTdsMgL, w.tapFlowLMin);
  if ((p.after ?? p).pH >= 7) return '';
  return `, with plastic${design.fridge ? ' to the fridge' : ''} in place of the ${site.metalAfter}`;
}

function storeReasons(e: Evaluation, site: Site): string[] {
  const w = e.worst;
  const n = formatNumber;
  return [
    `At ${n(w.middle.inletBar, 2)} bar and ${formatReading(w.temperatureC)} °C it fills the tank at ${n(w.litresADay, 2)} L a day; ${formatReading(site.litresADay)} L are used.`,
    `A full tank gives ${n(w.usableL, 2)} L at the tap and is full again in ${formatMinutes(w.fill.minutes)}; it shuts at ${n(w.fill.closeBar, 2)} bar.`,
    ...livedReasons(e, site),
  ];
}

/** Salt and waste as a tank is lived with; of one fill from empty where the design fails before it is. */
function livedReasons(e: Evaluation, site: Site): string[] {
  const { fill, wasteRatio } = e.worst;
  const n = formatNumber;
  const feed = `from a feed of ${n(site.tdsMgL, 3)}`;
  if (!e.year)
    return [
      `A fill from empty holds about ${n(fill.tankTdsMgL, 2)} mg/L ${feed}, and ${n(wasteRatio, 2)} L go to the drain for each litre.`,
    ];
  const { cold, warm } = e.year;
  return [
    `It is drunk at about ${n(cold.tdsMgL, 2)} mg/L in the coldest water and ${n(warm.tdsMgL, 2)} in the warmest, ${feed}, with what creeps through the membrane while it stands and is pushed in at each start (a fill in one go at the worst hour holds ${n(fill.tankTdsMgL, 2)}).`,
    `Lived with, near full, it sends ${n(cold.wasteRatio, 2)} L to the drain for each litre in the coldest water, ${n(warm.wasteRatio, 2)} in the warmest.`,
  ];
}

/** What is wanted at the open tap; less of it does only where nobody asked how long they wait. */
function wantedWords(flowLMin: number, site: Site): string {
  const wanted = formatNumber(site.wantedTapFlowLMin, 2);
  return flowLMin >= site.wantedTapFlowLMin
    ? `${wanted} L/min are wanted.`
    : `That is a little under the ${wanted} L/min taken where nobody was asked: ask how long they would wait for a glass.`;
}

function directReasons(e: Evaluation, run: DirectRun, site: Site): string[] {
  const w = e.worst;
  const n = formatNumber;
  return [
    `At ${n(w.middle.inletBar, 2)} bar and ${formatReading(w.temperatureC)} °C it gives ${n(run.tapFlowLMin, 2)} L/min at the open tap: a glass in ${n(run.glassSeconds, 2)} s, the largest draw of ${formatReading(site.largestDrawL)} L in ${formatMinutes(site.largestDrawL / run.tapFlowLMin)}. ${wantedWords(run.tapFlowLMin, site)}`,
    `Running it makes about ${n(w.fill.tankTdsMgL, 2)} mg/L from a feed of ${n(site.tdsMgL, 3)}; after a night the first glass is near ${n(run.firstGlassTdsMgL, 2)} mg/L, as salt creeps through while it stands. Pour that one away.`,
    run.rinses
      ? `${n(w.wasteRatio, 2)} L go to the drain for each litre while it runs, and about ${n(RINSE_L, 2)} L as it rinses itself at each stop.`
      : `${n(w.wasteRatio, 2)} L go to the drain for each litre while it runs. Without power it does not rinse itself: the membrane stands in its concentrate.`,
  ];
}

/** Why no tank, against the best design with one. */
function againstStore(e: Evaluation, site: Site, working: readonly Evaluation[]): string[] {
  const n = formatNumber;
  if (site.storeWish === 'none')
    return [
      `No tank: so the household, or the house rule, wants it.${e.design.pumpId === null ? '' : ' It needs its socket.'}`,
    ];
  const other = working.find((f) => f.design.tankId !== null);
  return [
    other
      ? `Without a tank it sends ${n(e.year?.wasteRatio ?? e.worst.wasteRatio, 2)} L to the drain for each litre over the year, against ${n(other.year?.wasteRatio ?? other.worst.wasteRatio, 2)} for the best design with one, which holds ${n(other.worst.usableL, 2)} L and refills in ${formatMinutes(other.worst.fill.minutes)}.`
      : 'No tank on the shelf does here, or none stands in the cupboard.',
  ];
}

/** Why a tank, where a design without one would do. */
function againstDirect(working: readonly Evaluation[], site: Site): string[] {
  const n = formatNumber;
  const other = working.find((f) => f.worst.direct !== null);
  if (!other?.worst.direct || site.storeWish === 'tank') return [];
  return [
    `A tank rather than none: without one the best design gives ${n(other.worst.tapFlowLMin, 2)} L/min, wants its socket, and its first glass of the day is near ${n(other.worst.direct.firstGlassTdsMgL, 2)} mg/L.`,
  ];
}

/** What the carbon has time for. */
function carbonReason(e: Evaluation, site: Site, catalogue: Catalogue): string[] {
  const agent = agentOf(site);
  if (agent === 'none') return [];
  const bed = carbonOf(e.design, catalogue);
  const flow = Math.max(1e-6, (e.worst.map.points[0]?.out.feedLDay ?? 0) / 1440);
  const work = carbonWork(bed, flow, agent, site.chlorineMgL, site.litresADay * (1 + e.worst.wasteRatio));
  const life =
    work.monthsLife === null || work.monthsLife > 24
      ? ''
      : `; used up in about ${formatNumber(work.monthsLife, 2)} months`;
  return [
    `The water has ${formatNumber(work.contactSeconds, 2)} s in ${formatNumber(bed.bedVolumeL, 2)} L of carbon at ${formatNumber(flow, 2)} L/min; ${agent} wants ${formatNumber(work.wantedSeconds, 2)} s${life}.`,
  ];
}

/** What a fridge and a lamp get. */
/** How an outlet on a branch is served from a tank. */
export interface BranchService {
  readonly outlet: BranchOutlet['outlet'];
  readonly minBar: number;
  /** it sees from a full tank, bar */
  readonly fullBar: number;
  /** content of the tank down to which its valve opens, L */
  readonly servedToL: number;
  /** content at which the shut-off reopens, L */
  readonly reopenL: number;
  /** it runs short before anything starts the refill */
  readonly deadlock: boolean;
}

/** How what hangs on branches is served, down to which content, and whether the refill has begun by then. */
export function branchService({ design, worst: w }: Evaluation, site: Site, catalogue: Catalogue): BranchService[] {
  if (design.tankId === null) return [];
  const tank = partOf(catalogue, 'tank', design.tankId);
  const reopenBar = w.fill.closeBar * reopenShare(trainOf(design, catalogue, site, 'worst'));
  const reopenL = waterAtPressureL(tank, reopenBar, site.airBar);
  return branchOutlets(design, catalogue, site).map((at) => {
    const fullBar = branchBar(at, design, catalogue, site, w.fill.closeBar, w.temperatureC);
    // pressure in the tank at which it just gets what its valve asks
    const servedToL = waterAtPressureL(tank, w.fill.closeBar - (fullBar - at.minBar), site.airBar);
    return { outlet: at.outlet, minBar: at.minBar, fullBar, servedToL, reopenL, deadlock: servedToL > reopenL };
  });
}

function serviceWords(s: BranchService): string {
  const n = formatNumber;
  const seen = `The ${s.outlet} sees ${n(s.fullBar, 2)} bar from a full tank; its valve wants ${n(s.minBar, 2)}`;
  if (s.deadlock)
    return `${seen} and opens until ${n(s.servedToL, 2)} L are left in it, but the refill begins only at ${n(s.reopenL, 2)} L: between the two it runs short, and nothing starts the refill until somebody draws at the tap. A delivery pump with a socket, a vented tank with its pump, or a ${s.outlet} that asks for less mends it.`;
  return s.servedToL <= 0.05
    ? `${seen}, and it is served down to the last of the tank.`
    : `${seen}. It is served until ${n(s.servedToL, 2)} L are left in it; the refill has begun by then, at ${n(s.reopenL, 2)} L.`;
}

function outletReasons(e: Evaluation, site: Site, catalogue: Catalogue): string[] {
  const out: string[] = [];
  const n = formatNumber;
  const { design, worst: w } = e;
  for (const s of branchService(e, site, catalogue)) out.push(serviceWords(s));
  if (design.dispenserId !== null) {
    const part = partOf(catalogue, 'dispenser', design.dispenserId);
    out.push(
      `${part.name}: ${n(part.coldL, 2)} L cold and ${n(part.hotL, 2)} L hot of its own, up to ${n(part.powerW, 3)} W at a socket of its own. It is filled and run at both spouts before its heater is switched on.`,
    );
  }
  if (design.lampId !== null) {
    const { lamp } = partOf(catalogue, 'lamp', design.lampId);
    const rush = w.direct
      ? w.tapFlowLMin
      : tapFlowLMin(outletOf(design, catalogue, site), w.fill.closeBar, w.temperatureC);
    const work = lampWork(lamp, Math.max(0.05, rush), PRODUCT_TRANSMITTANCE, lamp.lifeHours);
    out.push(
      `The lamp gives ${n(work.doseMJcm2, 2)} mJ/cm² at the tap’s ${n(rush, 2)} L/min even at the end of its life; ${n(UV_DOSE.classA, 2)} are wanted.`,
    );
  }
  return out;
}
