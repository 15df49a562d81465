import type { Level } from "@/core/hours";
import { type Capabilities, capabilitiesFor, isGuarded, type Resource } from "@/core/plan";
import {
  type Commitment,
  type CoverRun,
  cardReader,
  commitmentEdges,
  countsAt,
  coveredByAny,
  coverOver,
  covers,
  type MoneyView,
  NO_RATE,
} from "@/core/pricing";
import {
  type BasisDays,
  type EncodedLines,
  encodeLines,
  type Line,
  type Month,
  monthsFrom,
  ranOf,
  type SpareCover,
  type SpareStretch,
} from "@/core/projection";
import { claimerAbove, type NoHibernation, type Override, whyNoHibernation, withMembers } from "@/core/rounds";
import { matcher, type NearMiss, nearMisses, type SelectorWarning, selectorWarnings, tryParseSelector } from "@/core/selector";
import { billedRuns } from "@/core/spend";
import { DAY_S, formatDate, HOUR_S, type Instant, MINUTE_S } from "@/core/time";
import {
  fullInventory,
  type Lives,
  lastDueMap,
  livesOf,
  mixMembers,
  overridesFrom,
  type Pool,
  type Prices,
  priceBooks,
  type StartTime,
  startTimes,
} from "@/store";
import { type Actor, authorise, ESTATE, type Services } from "../admin";
import { currencyOf, type SnapshotAt, snapshotAt } from "../inventory";
import { memberUnits } from "../mix";
import { cardsOf } from "./cards";
import { basisDaysOf } from "./realised/baseline";
import { type LeverSoFar, leversSoFar } from "./realised/so-far";

/** One matched resource with everything that its first round needs. */
export type BasisLine = Readonly<{
  resource: Resource;
  /** The higher-ranked fleet in force that has it already; null where it is free for this one. */
  claimedBy: string | null;
  unpriced: readonly string[];
  whyNoHibernation: NoHibernation | null;
}>;

export type Basis = Readonly<{
  selectorError: Readonly<{ at: number; message: string }> | null;
  warnings: readonly SelectorWarning[];
  /** Machines whose tag is likely mistyped, so that the selector passes them over. */
  nearMisses: readonly NearMiss[];
  lines: readonly BasisLine[];
  /** The same for a projection, as it crosses to a browser. */
  projected: EncodedLines;
  total: number;
  /** The months a projection is made for: this one first. */
  months: readonly Month[];
  /** The days that "as it ran" rests on, and whether a person chose them. */
  days: BasisDays;
  basisWords: string;
  isBasisChosen: boolean;
  spare: SpareCover | null;
  now: number;
  currency: string;
  view: MoneyView;
  /** By account. */
  capabilities: readonly (readonly [string, Capabilities])[];
  holds: readonly Override[];
  /** What fleets that act on edges were last brought to, of these machines. */
  lastDue: Readonly<Record<string, Level>>;
  /** Starts of these machines as they were measured; null where there was none. */
  starts: LeadBasis | null;
  /** What the levers of the fleet in force have come to, lever by lever; none where no day was foretold. */
  soFar: readonly LeverSoFar[];
}>;

const MONTHS = 12;
/** What one workbench can take; a selector that matches more is refused, not cut. */
const LINES_MAX = 20_000;

export type BasisQuery = Readonly<{ selector: string; fleetId: number | null; at?: Instant | null; view?: MoneyView }>;

/** What a selector matches, now or as of another instant, with rates and past runs, for a projection in the browser. */
export async function projectionBasis(
  services: Services,
  actor: Actor,
  { selector, fleetId, at = null, view = "after" }: BasisQuery,
): Promise<Basis> {
  authorise(actor, "look", ESTATE);
  const { pool } = services;
  const [snapshot, prices] = await Promise.all([snapshotAt(services, at), priceBooks(pool, view)]);
  const now = snapshot.at;
  const fleet = snapshot.fleets.find(({ id }) => id === fleetId) ?? null;
  const days = basisDaysOf(fleet ?? { basis: null, firstInForceAt: null }, now);
  const empty = {
    warnings: [],
    nearMisses: [],
    lines: [],
    projected: encodeLines([]),
    total: 0,
    months: monthsFrom(now, MONTHS),
    days,
    basisWords: basisWords(days, fleet?.firstInForceAt ?? null),
    isBasisChosen: (fleet?.basis ?? null) !== null,
    spare: null,
    now,
    currency: currencyOf(snapshot),
    view,
    capabilities: [...snapshot.capabilities],
    holds: await overridesFrom(pool, now),
    lastDue: {},
    starts: null,
    soFar: fleet?.inForce ? await leversSoFar(pool, fleet.name, now) : [],
  };
  if (selector.trim() === "")
    return { ...empty, selectorError: { at: 0, message: "write a selector, for example: team = draughting" } };
  const parsed = tryParseSelector(selector);
  if (!parsed.ok) return { ...empty, selectorError: { at: parsed.error.at, message: parsed.error.message } };

  // A group that a mix is kept for is as large as all that it has.
  const units = memberUnits(snapshot, await mixMembers(pool), now);
  const matched = withMembers(snapshot.schedulable.filter(matcher(parsed.selector)), units);
  if (matched.length > LINES_MAX) {
    const message = `it matches ${matched.length} machines, and one fleet is priced for at most ${LINES_MAX}: make fleets of its parts`;
    return { ...empty, selectorError: { at: 0, message }, total: matched.length };
  }
  const window = windowOf(days, now);
  const ids = matched.map(({ id }) => id);
  const [lives, times, lastDue] = await Promise.all([
    livesOf(pool, ids, { from: window.from, to: window.to + 1 }),
    startTimes(pool, ids, window.from),
    lastDueMap(pool),
  ]);
  const made = linesOf(matched, { snapshot, prices, lives, days, rank: fleet?.rank ?? Number.POSITIVE_INFINITY });
  return {
    ...empty,
    selectorError: null,
    warnings: selectorWarnings(parsed.selector, snapshot.resources),
    nearMisses: nearMisses(parsed.selector, snapshot.schedulable),
    lines: made.map(({ line }) => line),
    projected: encodeLines(made.map(({ projected }) => projected)),
    total: matched.length,
    starts: leadBasis(times),
    lastDue: Object.fromEntries(ids.flatMap((id) => (lastDue.has(id) ? [[id, lastDue.get(id) as Level]] : []))),
    spare: await spareCover(pool, prices, {
      now,
      days,
      months: empty.months,
      own: matched,
      capabilities: snapshot.capabilities,
    }),
  };
}

function windowOf(days: BasisDays, now: Instant): { from: Instant; to: Instant } {
  const [first, last] = [days[0], days.at(-1)];
  return first === undefined || last === undefined ? { from: now, to: now } : { from: first * DAY_S, to: (last + 1) * DAY_S };
}

function basisWords(days: BasisDays, firstInForceAt: Instant | null): string {
  const [first, last] = [days[0], days.at(-1)];
  if (first === undefined || last === undefined) return "there are no days without a plan to compare with";
  const span = `${formatDate(first)} to ${formatDate(last)}`;
  return firstInForceAt === null ? span : `${span}, before its first plan`;
}

type Lining = Readonly<{ snapshot: SnapshotAt; prices: Prices; lives: Lives; days: BasisDays; rank: number }>;

function linesOf(
  matched: readonly Resource[],
  { snapshot, prices, lives, days, rank }: Lining,
): readonly Readonly<{ line: BasisLine; projected: Line }>[] {
  const claim = claimerAbove(snapshot.fleets, rank);
  const cardOf = cardReader(prices.history.bookAt(snapshot.at), snapshot.capabilities);
  return matched.flatMap((resource) => {
    const capabilities = capabilitiesFor(resource, snapshot.capabilities);
    const card = cardOf(resource);
    if (!capabilities || !card) return [];
    const claimedBy = claim(resource)?.name ?? null;
    const why = whyNoHibernation(resource, capabilities);
    const life = lives.get(resource.id);
    const line = { resource, claimedBy, unpriced: card.unpriced, whyNoHibernation: why };
    const projected: Line = {
      id: resource.id,
      kind: resource.kind,
      one: { kind: resource.kind, fields: resource.fields },
      levelMax: resource.levelMax,
      ownSize: resource.ownSize,
      card,
      ran: days.length === 0 ? null : ranOf(life ?? [], { card, days }),
      isLeft: isGuarded(resource) || claimedBy !== null,
      canHibernate: why === null,
    };
    return [{ line, projected }];
  });
}

type Sparing = Readonly<{
  now: Instant;
  days: BasisDays;
  months: readonly Month[];
  own: readonly Resource[];
  capabilities: SnapshotAt["capabilities"];
}>;

/**
 * What commitments have left for some resources in every hour of the basis days, after what all others used then; in stretches of the
 * months in which the same ones count.
 */
async function spareCover(pool: Pool, prices: Prices, sparing: Sparing): Promise<SpareCover | null> {
  const { now, days, months, own, capabilities } = sparing;
  const span = { from: months[0]?.from ?? now, to: months.at(-1)?.to ?? now };
  const counting = prices.commitments.filter((commitment) => {
    const [begins, ends] = commitmentEdges(commitment);
    return begins < span.to && ends > span.from && own.some((resource) => covers(commitment, resource));
  });
  if (counting.length === 0 || days.length === 0) return null;
  const ids = new Set(own.map(({ id }) => id));
  // What a group's members used it used itself.
  const others = (await fullInventory(pool)).filter(
    (resource) =>
      !ids.has(resource.id) &&
      !(resource.kind === "member" && ids.has(resource.attachedTo ?? "")) &&
      coveredByAny(counting, resource),
  );
  const window = windowOf(days, now);
  const lives = await livesOf(
    pool,
    others.map(({ id }) => id),
    window,
  );
  const cardsOver = cardsOf(prices, capabilities);
  const runs = others.flatMap((one): CoverRun[] =>
    billedRuns(lives.get(one.id) ?? [], cardsOver(one, window.from, window.to) ?? []).map((run) => ({
      ...run,
      one,
      perLevel: NO_RATE,
    })),
  );
  const edges = [...new Set([span.from, span.to, ...counting.flatMap(commitmentEdges)])]
    .filter((t) => t >= span.from && t <= span.to)
    .sort((a, b) => a - b);
  const stretches = edges.slice(1).map((to, i): SpareStretch => {
    const from = edges[i] as Instant;
    const commitments = counting.filter((one) => countsAt(one, from)).map(plainCommitment);
    return { from, to, commitments, unitSeconds: leftOn(days, commitments, runs) };
  });
  return { days, stretches };
}

/** What is left of commitments, as if they counted on the basis days, in each hour of those. */
function leftOn(days: BasisDays, commitments: readonly Commitment[], runs: readonly CoverRun[]): SpareStretch["unitSeconds"] {
  const forever = commitments.map((commitment) => ({ ...commitment, fromDay: "1970-01-01", toDay: "2999-12-31" }));
  return days.map((day) => {
    const [from, to] = [day * DAY_S, (day + 1) * DAY_S];
    const ofDay = runs.filter((run) => run.from < to && run.to > from);
    return Array.from({ length: 24 }, (_, hour) => {
      const at = from + hour * HOUR_S;
      const { usedS } = coverOver(forever, ofDay, { from: at, to: at + HOUR_S });
      return commitments.map(({ units }, i) => Math.max(0, Math.round(units * HOUR_S - (usedS[i] ?? 0))));
    });
  });
}

/** Without who entered it: what crosses to a browser is what is reckoned with. */
function plainCommitment({ id, provider, account, region, size, units, feePerHour, fromDay, toDay }: Commitment): Commitment {
  return { id, provider, account, region, size, units, feePerHour, fromDay, toDay };
}

/** What a lead is suggested from: how many starts were measured, and the time that 95 of 100 stayed under. */
export type LeadBasis = Readonly<{ count: number; resumes: number; p95S: number; suggestedMinutes: number }>;

/** The 95th percentile by nearest rank, in whole minutes; null without a measurement. */
export function leadBasis(times: readonly StartTime[]): LeadBasis | null {
  if (times.length === 0) return null;
  const sorted = times.map(({ seconds }) => seconds).sort((a, b) => a - b);
  const p95S = sorted[Math.ceil(0.95 * sorted.length) - 1] as number;
  const resumes = times.filter(({ isResume }) => isResume).length;
  return { count: times.length, resumes, p95S, suggestedMinutes: Math.ceil(p95S / MINUTE_S) };
}
