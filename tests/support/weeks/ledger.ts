import { priceList } from "../../../standin/world/prices";
import { providerOf } from "../../../standin/world/provider";
import { billedAs, type Change, DAY, HOUR, isOn, type LooseThing, type Unit, type World } from "../../../standin/world/types";

/**
 * A slow ledger of its own, made from what the stand-in really did and asks: it shares nothing with
 * `src`, goes day by day and run by run, and counts in floating euros, right to far below a cent.
 */
export type Facts = Readonly<{
  world: World;
  now: number;
  /** The first day whose prices were read. */
  firstPrices: number;
  /** What was taken out of the listing without a word, and the reading that first missed it. */
  vanished: readonly Readonly<{ unit: Unit; at: number /** The reading that found it again. */; back?: number }>[];
  vanishedLoose: readonly Readonly<{ thing: LooseThing; at: number }>[];
  /** A compute price set by hand: an hour, on the UTC days from one to another; of everything of a size, or of spot in a zone. */
  handPrices: readonly Readonly<{ size: string; spotIn?: string; rate: number; from: number; to: number }>[];
  /** Off everything of an item, or off what is bought so. */
  discounts: readonly Readonly<{
    provider: string;
    item: string;
    purchase?: string;
    percent: number;
    from: number;
    to: number;
  }>[];
  /** In the order in which they count. */
  commitments: readonly SlowCommitment[];
}>;

export type SlowCommitment = Readonly<{
  account: string;
  region: string;
  size: string;
  units: number;
  fee: number;
  from: number;
  to: number;
}>;

export type Items = Record<"compute" | "licence" | "disk" | "address" | "image", number>;
export type Life = readonly Change[];
export type Span = Readonly<{ from: number; to: number }>;
export type SlowRun = Readonly<{ from: number; to: number; level: number }>;

export const unitsOf = ({ world, vanished }: Facts): Unit[] => [
  ...new Set([...world.units, ...vanished.map(({ unit }) => unit)]),
];

/** What happened to a unit, as far as Umbrik could know: one that is no longer listed ended when it was missed. */
export function lifeOf({ vanished }: Facts, unit: Unit): Life {
  const missed = vanished.find((one) => one.unit === unit);
  if (!missed) return unit.life;
  const { at: missedAt, back } = missed;
  const again = back === undefined ? [] : unit.life.filter(({ at }) => at > back);
  const found = back === undefined ? [] : [{ ...(unit.life.findLast(({ at }) => at <= back) as Change), at: back }];
  return [...unit.life.filter(({ at }) => at < missedAt), { at: missedAt, state: "gone", level: 0 }, ...found, ...again];
}

/** A life that ends at an instant: nothing after it is known. */
export const upTo = (life: Life, t: number): Life => life.filter(({ at }) => at <= t);

const lists = new Map<string, Map<string, number>>();

/** What a provider asks an hour (or a GiB-month) on the day of an instant, before anything a person entered. */
function asked(
  { world, now, firstPrices }: Facts,
  unit: Pick<Unit, "provider" | "region"> & Partial<Pick<Unit, "zone">>,
  item: string,
  more: string,
  t: number,
): number {
  // What will be asked tomorrow nobody knows: today's prices stand for it, as those of the first day read do for what was before.
  const day = Math.floor(Math.max(firstPrices, Math.min(t, now)) / DAY) * DAY;
  const key = `${unit.provider} ${day}`;
  let list = lists.get(key);
  if (!list) {
    list = new Map();
    for (const { region, item: what, rate, ...line } of priceList(world.seed, providerOf(unit.provider), day)) {
      const { size = "", os = "", purchase = "", class: kind = "", zone = "" } = line;
      list.set([region, what, size, os, purchase, kind, zone].join("|"), Number(rate));
    }
    lists.set(key, list);
  }
  const inRegion = [unit.region, item, ...more.split("|")].join("|");
  return list.get(`${inRegion}|${unit.zone ?? ""}`) ?? list.get(`${inRegion}|`) ?? 0;
}

const lessDiscount = ({ discounts }: Facts, { provider, purchase }: Unit, item: string, t: number) =>
  1 -
  Math.max(
    0,
    ...discounts
      .filter((one) => one.provider === provider && one.item === item && t >= one.from && t < one.to)
      .filter((one) => one.purchase === undefined || one.purchase === purchase)
      .map(({ percent }) => percent),
  ) /
    100;

/** Euros an hour for one level: of compute as a person's prices and discounts leave it. */
export function computeRate(facts: Facts, unit: Unit, t: number): number {
  const hand = facts.handPrices
    .filter(({ size, from, to }) => size === unit.size && t >= from && t < to)
    .find(({ spotIn }) => spotIn === undefined || (unit.purchase === "spot" && unit.zone === spotIn));
  const more =
    unit.kind === "service" ? `${unit.size}|||` : `${unit.size}|${unit.purchase === "spot" ? unit.os : ""}|${unit.purchase}|`;
  // A discount is off what a provider asks, and not off what a person has set.
  return hand?.rate ?? asked(facts, unit, "compute", more, t) * lessDiscount(facts, unit, "compute", t);
}

function licenceRate(facts: Facts, unit: Unit, level: number, t: number): number {
  if (level === 0) return 0;
  if (unit.kind === "service")
    return (
      Math.max(level, providerOf(unit.provider).serviceLicence.coresMin) * asked(facts, unit, "licence", `${unit.size}|||`, t)
    );
  return unit.os === "windows" ? unit.cores * level * asked(facts, unit, "licence", `${unit.size}|windows||`, t) : 0;
}

const billedLevel = (unit: Unit, { state, level }: Pick<Change, "state" | "level">) =>
  state === "halted" ? (providerOf(unit.provider).billedWhenHalted ? 1 : 0) : isOn(state) ? level : 0;

/** The runs of a bill; one that goes on ends at infinity. */
export function runsOf(unit: Unit, life: Life): SlowRun[] {
  const runs: { from: number; to: number; level: number }[] = [];
  life.forEach((piece, i) => {
    const level = billedLevel(unit, piece);
    const to = life[i + 1]?.at ?? Number.POSITIVE_INFINITY;
    const last = runs.at(-1);
    if (level === 0 || piece.at >= to) return;
    if (last && last.to === piece.at && last.level === level) last.to = to;
    else runs.push({ from: piece.at, to, level });
  });
  return runs;
}

/** What rounding up adds to a run that ended, in seconds. */
function roundedUp(unit: Unit, { from, to }: SlowRun): number {
  const { granularityS, minimumS } = providerOf(unit.provider);
  const granule = granularityS[billedAs(unit.kind)];
  return Math.max(minimumS[billedAs(unit.kind)], Math.ceil((to - from) / granule) * granule) - (to - from);
}

const days = ({ from, to }: Span): Span[] => {
  const parts: Span[] = [];
  for (let at = from; at < to; at = (Math.floor(at / DAY) + 1) * DAY)
    parts.push({ from: at, to: Math.min(to, (Math.floor(at / DAY) + 1) * DAY) });
  return parts;
};
const overlap = (a: Span, b: Span) => Math.max(0, Math.min(a.to, b.to) - Math.max(a.from, b.from));

export type Costing = Readonly<{ life: Life; span: Span /** Prices of this day for all days. */; pricesAt?: number }>;

/** What one unit cost over a span, before commitments. */
export function costOf(facts: Facts, unit: Unit, { life, span, pricesAt }: Costing): Items {
  const sum: Items = { compute: 0, licence: 0, disk: 0, address: 0, image: 0 };
  const runs = runsOf(unit, life);
  for (const day of days(span)) {
    const at = pricesAt ?? day.from;
    for (const run of runs) {
      // Rounding up comes on the day, and in the span, in which a run ends.
      const seconds = overlap(run, day) + (run.to > day.from && run.to <= day.to ? roundedUp(unit, run) : 0);
      if (seconds === 0) continue;
      sum.compute += (seconds / HOUR) * run.level * computeRate(facts, unit, at);
      sum.licence += (seconds / HOUR) * licenceRate(facts, unit, run.level, at);
    }
    life.forEach(({ at: from, state }, i) => {
      const seconds = overlap({ from, to: life[i + 1]?.at ?? Number.POSITIVE_INFINITY }, day);
      if (seconds === 0 || state === "gone") return;
      const months = seconds / HOUR / 730;
      sum.disk += months * unit.diskGib * asked(facts, unit, "disk", `|||${unit.diskClass}`, at);
      if (state === "hibernated") sum.image += months * unit.memoryGib * asked(facts, unit, "image", "|||", at);
      sum.address +=
        (seconds / HOUR) * unit.addresses * asked(facts, unit, isOn(state) ? "address running" : "address stopped", "|||", at);
    });
  }
  return sum;
}

export const totalOf = (items: Items) => Object.values(items).reduce((sum, one) => sum + one, 0);

/** What a disk or an address that belongs to nothing cost. */
export function looseCost(facts: Facts, thing: LooseThing, span: Span): number {
  const missed = facts.vanishedLoose.find((one) => one.thing === thing)?.at ?? Number.POSITIVE_INFINITY;
  return days(span).reduce((sum, day) => {
    const hours = overlap({ from: thing.since, to: missed }, day) / HOUR;
    if (thing.kind === "address") return sum + hours * asked(facts, thing, "address unattached", "|||", day.from);
    return sum + (hours / 730) * thing.gib * asked(facts, thing, "disk", `|||${thing.class}`, day.from);
  }, 0);
}

const isCovered = (unit: Unit, { account, region, size }: SlowCommitment) =>
  unit.kind !== "service" &&
  unit.purchase === "firm" &&
  unit.size === size &&
  unit.region === region &&
  (account === "" || unit.account === account);

export type Living = Readonly<{ unit: Unit; life: Life }>;

/** What commitments pay of each unit over a span: at every instant in their order, each of what those before it left open. */
export function coveredOver(facts: Facts, all: readonly Living[], span: Span): Map<Unit, number> {
  const own = all
    .filter(({ unit }) => facts.commitments.some((one) => isCovered(unit, one)))
    .map(({ unit, life }) => ({ unit, runs: runsOf(unit, life) }));
  const edges = new Set([span.from, span.to, ...days(span).map(({ from }) => from)]);
  for (const { runs } of own)
    for (const { from, to } of runs) for (const t of [from, to]) if (t > span.from && t < span.to) edges.add(t);
  for (const { from, to } of facts.commitments) for (const t of [from, to]) if (t > span.from && t < span.to) edges.add(t);
  const sums = new Map<Unit, number>();
  const inOrder = [...edges].sort((a, b) => a - b);
  inOrder.slice(0, -1).forEach((from, i) => {
    const hours = ((inOrder[i + 1] as number) - from) / HOUR;
    const open = own.flatMap(({ unit, runs }) => {
      const run = runs.find((one) => one.from <= from && from < one.to);
      return run ? [{ unit, level: run.level, left: run.level }] : [];
    });
    for (const one of facts.commitments) {
      if (from < one.from || from >= one.to) continue;
      const wanting = open.filter(({ unit }) => isCovered(unit, one));
      const wanted = wanting.reduce((sum, { left }) => sum + left, 0);
      const share = wanted === 0 ? 0 : Math.min(1, one.units / wanted);
      for (const use of wanting) use.left -= use.left * share;
    }
    for (const { unit, level, left } of open)
      sums.set(unit, (sums.get(unit) ?? 0) + (level - left) * hours * computeRate(facts, unit, from));
  });
  return sums;
}

export const feesOver = ({ commitments }: Facts, span: Span) =>
  commitments.reduce((sum, one) => sum + (overlap(one, span) / HOUR) * one.fee, 0);

export type Whole = Readonly<{
  gross: number;
  covered: number;
  fees: number;
  net: number;
  items: Items;
  byUnit: Map<Unit, number>;
}>;

/** Everything over a span, by what was known at `knownAt`; `lifeTo` may go on beyond it. */
export function everything(facts: Facts, span: Span, lifeTo: (unit: Unit) => Life): Whole {
  const items: Items = { compute: 0, licence: 0, disk: 0, address: 0, image: 0 };
  const all = unitsOf(facts).map((unit) => ({ unit, life: lifeTo(unit) }));
  const covered = coveredOver(facts, all, span);
  const byUnit = new Map<Unit, number>();
  for (const { unit, life } of all) {
    const own = costOf(facts, unit, { life, span });
    for (const item of Object.keys(items) as (keyof Items)[]) items[item] += own[item];
    byUnit.set(unit, totalOf(own) - (covered.get(unit) ?? 0));
  }
  for (const thing of [...facts.world.loose, ...facts.vanishedLoose.map(({ thing: one }) => one)])
    items[thing.kind] += looseCost(facts, thing, span);
  const gross = totalOf(items);
  const off = [...covered.values()].reduce((sum, one) => sum + one, 0);
  const fees = feesOver(facts, span);
  return { gross, covered: off, fees, net: gross - off + fees, items, byUnit };
}
