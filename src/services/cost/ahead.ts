import { capabilitiesFor, type Resource } from "@/core/plan";
import {
  type Amount,
  type AmountPerSecond,
  addAmounts,
  amountOf,
  type CoverRun,
  commitmentEdges,
  costPerSecond,
  coveredByAny,
  coverOver,
  type DatedCard,
  feePerSecond,
  NO_AMOUNT,
  type RateCard,
} from "@/core/pricing";
import { type AheadSpan, lifeAhead, type Override, overridesOn } from "@/core/rounds";
import { billedRuns, cardAt, costBySteps, costOver, type LifeSpan, totalOf } from "@/core/spend";
import type { Instant } from "@/core/time";
import type { Prices } from "@/store";
import { type Claim, claimsOf, followingOf, mixesAhead, poolsAhead, type Snapshot, usedAhead } from "../inventory";
import { cardsOf } from "./cards";
import { commitmentKey } from "./compute-costs";
import { type LikelyOff, likelyOff, likelySaved, likelySavedBySteps } from "./likely-off";

type Window = Readonly<{ from: Instant; to: Instant }>;

/** What a snapshot costs to come if plans are kept and all else stays as it is at `now`. */
export type AheadInput = Readonly<{
  /** Present things, with the plans that count at `now`. */
  snapshot: Snapshot;
  prices: Prices;
  holds: readonly Override[];
  now: Instant;
  /** What is to be priced; it may begin later than now, never before. */
  window: Window;
}>;

/** Resources that will live and cost alike, and one life for all of them; what idle alarms will likely take off it, by UTC hour of the week. */
type Alike = {
  ids: string[];
  one: Resource;
  cards: readonly DatedCard[];
  life: readonly LifeSpan[];
  idle: LikelyOff | null;
};

/** What each resource comes to over the window, and each commitment's fee by its key; those that live alike share one reckoning. */
export function costsAhead(input: AheadInput): Map<string, Amount> {
  const { window } = input;
  const kinds = alikeOf(input);
  const covered = coverReader(kinds, input)(window);
  const sums = new Map<string, Amount>();
  kinds.forEach((kind, i) => {
    const cost = costOfKind(kind, input);
    const saved = likelySaved(kind, { window, cost, covered: covered[i] as bigint });
    const net = (cost - (covered[i] as bigint) - saved) as Amount;
    for (const id of kind.ids) sums.set(id, net);
  });
  for (const [key, amount] of feesOver(input)) sums.set(key, amount);
  return sums;
}

/** What everything together comes to in each step of the window. */
export function stepsAhead(input: AheadInput, stepS: number): Map<Instant, Amount> {
  const sums = new Map<Instant, bigint>();
  const add = (at: Instant, amount: bigint) => sums.set(at, (sums.get(at) ?? 0n) + amount);
  const kinds = alikeOf(input);
  // What goes on as it is costs the same in every second: it is added up once.
  let steady = 0n;
  for (const kind of kinds) {
    const { ids, cards, life, idle } = kind;
    const times = BigInt(ids.length);
    if (idle) {
      for (const [at, saved] of likelySavedBySteps(kind, input.window, stepS)) add(at, -saved * times);
    }
    const rate = steadyRate(kind, input.window);
    if (rate !== null) {
      steady += rate * times;
      continue;
    }
    add(Math.floor(input.now / stepS) * stepS, roundedAtNow(kind, input) * times);
    const steps = costBySteps({ life, cards, ...input.window, knownTo: input.window.to + 1, stepS });
    for (const [at, cost] of steps) add(at, totalOf(cost) * times);
  }
  const coveredIn = coverReader(kinds, input);
  for (let at = Math.floor(input.window.from / stepS) * stepS; at < input.window.to; at += stepS) {
    const window = { from: Math.max(at, input.window.from), to: Math.min(at + stepS, input.window.to) };
    add(at, amountOf(window.to - window.from, steady as AmountPerSecond));
    coveredIn(window).forEach((amount, i) => {
      if (amount !== 0n) add(at, -amount * BigInt(kinds[i]?.ids.length ?? 0));
    });
    for (const amount of feesOver({ ...input, window }).values()) add(at, amount);
  }
  return sums as Map<Instant, Amount>;
}

/** What rounds up a run that is due to end at `now` itself: it is not over yet, so nobody has billed it. */
function roundedAtNow({ life, cards }: Alike, { now, window }: AheadInput): Amount {
  if (window.from !== now || life[0]?.to !== now) return NO_AMOUNT;
  const second = { life, cards, from: now - 1, to: now };
  return (totalOf(costOver({ ...second, knownTo: now + 1 })) - totalOf(costOver({ ...second, knownTo: now }))) as Amount;
}

function feesOver({ prices, window }: Pick<AheadInput, "prices" | "window">): Map<string, Amount> {
  return new Map(
    prices.commitments.flatMap((commitment): [string, Amount][] => {
      const [begins, ends] = commitmentEdges(commitment);
      const seconds = Math.min(ends, window.to) - Math.max(begins, window.from);
      return seconds > 0 ? [[commitmentKey(commitment), amountOf(seconds, feePerSecond(commitment))]] : [];
    }),
  );
}

/** What one of a kind comes to over the window, before commitments. */
function costOfKind(kind: Alike, input: AheadInput): bigint {
  const { life, cards } = kind;
  const { window } = input;
  const steady = steadyRate(kind, window);
  if (steady !== null) return amountOf(window.to - window.from, steady);
  let cost = roundedAtNow(kind, input) as bigint;
  for (const step of costBySteps({ life, cards, ...window, knownTo: window.to + 1 }).values()) cost += totalOf(step);
  return cost;
}

/** Most things go on as they are at one price: what such a one costs a second all along; null for any other. */
function steadyRate({ life, cards }: Alike, { from, to }: Window): AmountPerSecond | null {
  const [first] = life;
  const card = cardAt(cards, from);
  const isSteady = first && life.every(({ state, level }) => state === first.state && level === first.level);
  if (!isSteady || !card || cards.some((dated) => dated.from > from && dated.from < to)) return null;
  return costPerSecond(card, first);
}

/** Reads what commitments pay over a part of the window of one of each kind. */
function coverReader(kinds: readonly Alike[], { prices, window }: AheadInput): (part: Window) => readonly Amount[] {
  const owners: number[] = [];
  const runs = kinds.flatMap(({ one, ids, cards, life }, kind) =>
    coveredByAny(prices.commitments, one)
      ? billedRuns(life, cards).flatMap((run) =>
          cards.flatMap(({ from: since, card }, i): CoverRun[] => {
            const from = Math.max(run.from, since, window.from);
            const to = Math.min(run.to, cards[i + 1]?.from ?? Number.POSITIVE_INFINITY, window.to);
            if (from >= to) return [];
            owners.push(kind);
            return [{ one, from, to, level: run.level, perLevel: card.perLevel, count: ids.length }];
          }),
        )
      : [],
  );
  return (part) => {
    const sums = kinds.map(() => NO_AMOUNT);
    if (runs.length === 0) return sums;
    coverOver(prices.commitments, runs, part).covered.forEach((amount, i) => {
      const kind = owners[i] as number;
      sums[kind] = addAmounts(sums[kind] as Amount, amount);
    });
    return sums;
  };
}

function alikeOf({ snapshot, prices, holds, now, window }: AheadInput): Alike[] {
  const cardsOver = cardsOf(prices, snapshot.capabilities);
  const claims = claimsOf(snapshot);
  // What a mix gives a group follows the hours of the group.
  const living = { claims, holds, from: now, to: window.to + BEYOND_S };
  const mixed = mixesAhead(snapshot, living);
  const pooled = poolsAhead(snapshot, living);
  const onIt = overridesOn(holds);
  const held = new Set(holds.map(({ resourceId }) => resourceId));
  const numberOf = numbering();
  const kinds = new Map<string, Alike>();
  snapshot.resources.forEach((listed, i) => {
    if (listed.state === "gone") return;
    const inMix = mixed.get(listed.id);
    const resource = inMix ? { ...listed, fields: inMix.fields } : listed;
    const cards = cardsOver(resource, now, window.to);
    const card = cards && cardAt(cards, now);
    if (!cards || !card) return;
    const claim = claims[i] ?? null;
    const { id, kind, state, level, levelMax, fields } = resource;
    let key = id;
    const given = inMix?.spans ?? pooled.get(id);
    const idle = claim && likelyOff(resource, claim, { snapshot, card });
    if (!given && !held.has(id)) {
      key = `${idle?.canHibernate} ${state} ${level} ${kind} ${levelMax} ${fields.account}`;
      for (const dated of cards) key += ` ${numberOf(dated)}`;
      // Without a plan a run does not end, and it is all the same when it began.
      if (claim) key += ` by ${numberOf(claim)} ${phaseOf(resource, card, now)}`;
    }
    const known = kinds.get(key);
    if (known) known.ids.push(id);
    else
      kinds.set(key, {
        ids: [id],
        one: resource,
        cards,
        idle,
        life: given
          ? sinceBegan(resource, given, now)
          : lifeOf(resource, claim, { snapshot, holds: onIt(id, claim?.plan.name ?? null), now, to: window.to, idle }),
      });
  });
  return [...kinds.values()];
}

function numbering(): (one: object) => number {
  const numbers = new Map<object, number>();
  return (one) => {
    const number = numbers.get(one) ?? numbers.size;
    numbers.set(one, number);
    return number;
  };
}

/** Where in the provider's granule a run is: those that differ in it are rounded up differently when they end. */
function phaseOf(resource: Resource, { billing }: RateCard, now: Instant): string {
  const began = beganAt(resource);
  if (began === null) return "";
  const isPastMinimum = now - began >= billing.minimumS;
  return `${isPastMinimum ? "" : began} ${began % billing.granularityS}`;
}

/** When the run at its present level began; null where none does. */
function beganAt({ kind, state, since, runSince }: Resource): Instant | null {
  if (state === "halted") return since;
  if (runSince === null) return null;
  return kind === "machine" || kind === "member" ? runSince : Math.max(runSince, since);
}

const BEYOND_S = 2;

type Living = Readonly<{
  snapshot: Snapshot;
  holds: readonly Override[];
  now: Instant;
  to: Instant;
  idle: LikelyOff | null;
}>;

/** The run that goes on, and from now on what the plan makes of it. */
function lifeOf(resource: Resource, claim: Claim | null, { snapshot, holds, now, to, idle }: Living): readonly LifeSpan[] {
  if (idle?.isAlone) return sinceBegan(resource, usedAhead(holds, { from: now, to: to + BEYOND_S }), now);
  const capabilities = capabilitiesFor(resource, snapshot.capabilities);
  const following = claim && followingOf(claim, holds);
  // Beyond the window it goes on: a run that the window cuts off is not rounded up as one that ends.
  const ahead: readonly AheadSpan[] = lifeAhead(resource, following, { from: now, to: to + BEYOND_S, capabilities });
  return sinceBegan(resource, ahead, now);
}

/** A life ahead with the run before it that goes on. */
function sinceBegan(resource: Resource, ahead: readonly AheadSpan[], now: Instant): readonly LifeSpan[] {
  const began = beganAt(resource);
  if (began === null || began >= now) return ahead;
  return [{ from: began, to: now, state: resource.state, level: resource.level }, ...ahead];
}
