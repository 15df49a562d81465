import {
  type Amount,
  type AmountPerSecond,
  amountOf,
  type CardsOver,
  costPerSecond,
  type DatedCard,
  NO_RATE,
  type RateCard,
} from "@/core/pricing";
import { levelUnder, listedOverrides } from "@/core/rounds";
import { cardAt, type LifeSpan, runMeter } from "@/core/spend";
import { DAY_S, HOUR_S, type Instant } from "@/core/time";
import {
  cache,
  type DataTag,
  dataVersionKey,
  isOnBurn,
  livesOf,
  type Pool,
  type Prices,
  readDataVersions,
  type StoredOverride,
  type StoredResource,
  tagOf,
} from "@/store";
import { claimsOf, type SnapshotAt } from "../../inventory";
import { cardsOf } from "../cards";
import { type LikelyOff, likelyOff, likelySavedPerSecond } from "../likely-off";
import { coverNow, type RatedFee } from "./commitments";

/** Something that runs, with all of its money that time alone does not change. */
export type Rated = Readonly<{
  resource: StoredResource;
  hold: StoredOverride | null;
  isNotDue: boolean;
  /** A commitment pays for its compute, in whole or in part. */
  isCovered: boolean;
  unpriced: readonly string[];
  /** Net of commitments. */
  perSecond: AmountPerSecond;
  perHour: Amount;
  /** What it would cost an hour at full price; null for what is at full price, or has none. */
  fullPerHour: Amount | null;
  soFarAt: (now: Instant) => Amount;
}>;

/** Everything that runs in a snapshot, by name; it counts for the instants of `[from, to)`. */
export type Rates = Readonly<{ lines: readonly Rated[]; fees: readonly RatedFee[]; from: Instant; to: Instant }>;

type Kept = Readonly<{ prices: Prices; key: string; rates: Rates }>;

type KeptLine = Readonly<{ cardsOver: CardsOver; covered: AmountPerSecond; line: Rated }>;
/** Of what has one price all along and did not change its level; the same at every instant at which the resource is. */
const linesOf = () => cache<StoredResource, KeptLine>("rated lines");

/** The rates of what runs; kept as long as nothing new is told and neither a price, a commitment nor a hold changes. */
export async function ratesOf(pool: Pool, snapshot: SnapshotAt, prices: Prices): Promise<Rates> {
  const { at, resources } = snapshot;
  const versions = await readDataVersions(pool);
  const key = `${dataVersionKey(versions, ["changes", "holds"])} ${snapshot.holds.map(({ id }) => id).join(" ")}`;
  const kept = cache<DataTag, Kept>("rates");
  const tag = tagOf(resources);
  const known = tag === null ? undefined : kept.get(tag);
  if (known?.prices === prices && known.key === key && known.rates.from <= at && at < known.rates.to) return known.rates;
  const rates = await computeRates(pool, snapshot, prices);
  if (tag !== null) kept.set(tag, { prices, key, rates });
  return rates;
}

async function computeRates(pool: Pool, snapshot: SnapshotAt, prices: Prices): Promise<Rates> {
  const { at, tense, resources } = snapshot;
  const running = resources.filter(({ state }) => isOnBurn(state));
  const lives = tense === "ahead" ? new Map<string, LifeSpan[]>() : await livesOfMany(pool, running, at);
  const cardsOver = cardsOf(prices, snapshot.capabilities);
  const { covered: cover, fees } = coverNow(snapshot, prices, { running, cardsOver });
  const keptLines = linesOf();
  const holdOn = listedOverrides(snapshot.holds, at);
  const lines: Rated[] = [];
  // Commitments begin and end with a UTC day; prices whenever they do.
  const today = Math.floor(at / DAY_S) * DAY_S;
  const span = { from: today, to: today + DAY_S };
  // Of a time to come idle alarms have their part, as in all that is told of it.
  const likelyOffOf = tense === "ahead" ? offReader(snapshot) : () => null;
  for (const resource of running) {
    const hold = holdOn(resource, resource.fleet);
    const covered = cover.get(resource.id) ?? NO_RATE;
    const known = keptLines.get(resource);
    if (known?.cardsOver === cardsOver && known.line.hold === hold && known.covered === covered) {
      lines.push(known.line);
      continue;
    }
    const since = Math.min(resource.runSince ?? resource.since, at);
    const cards = cardsOver(resource, since, span.to);
    const meter = cards && runMeter(resource, { at, cards, life: lives.get(resource.id) });
    if (!meter) continue;
    narrow(span, cards, at);
    const card = cardAt(cards, at);
    const idle = likelyOffOf(resource, card);
    const off = idle && card ? likelySavedPerSecond(idle, card, at) : 0n;
    const left = meter.perSecond - covered;
    const perSecond = (left - (off < left ? off : left)) as AmountPerSecond;
    const line: Rated = {
      resource,
      hold,
      isNotDue: (hold ? levelUnder(hold, resource.due) : resource.due) === 0 && resource.state !== "stopping",
      isCovered: covered > 0n,
      unpriced: card?.unpriced ?? [],
      perSecond,
      perHour: amountOf(HOUR_S, perSecond),
      fullPerHour: fullPriceOf(resource, { cardsOver, at }),
      soFarAt: meter.soFarAt,
    };
    lines.push(line);
    const isSteady = cards.length === 1 && cardsOver(resource, since, Number.POSITIVE_INFINITY)?.length === 1;
    if (isSteady && !idle && !lives.has(resource.id)) keptLines.set(resource, { cardsOver, covered, line });
  }
  return { lines, fees, ...span };
}

/** Finds what idle alarms will likely take off one. */
function offReader(snapshot: SnapshotAt): (resource: StoredResource, card: RateCard | null) => LikelyOff | null {
  const claims = new Map(claimsOf(snapshot).map((claim, i) => [snapshot.resources[i]?.id, claim]));
  return (resource, card) => {
    const claim = claims.get(resource.id);
    return claim ? likelyOff(resource, claim, { snapshot, card }) : null;
  };
}

function fullPriceOf(
  resource: StoredResource,
  { cardsOver, at }: Readonly<{ cardsOver: CardsOver; at: Instant }>,
): Amount | null {
  if (resource.fields.purchase !== "spot") return null;
  const firm = { ...resource, fields: { ...resource.fields, purchase: "firm" } };
  const card = cardAt(cardsOver(firm, at, at + 1) ?? [], at);
  return card && card.unpriced.length === 0 ? amountOf(HOUR_S, costPerSecond(card, resource)) : null;
}

/** Rates count no further than the next change of any price. In place. */
function narrow(span: { from: Instant; to: Instant }, cards: readonly DatedCard[], at: Instant): void {
  if (cards.length === 1) return;
  for (const { from } of cards) {
    if (from > at) span.to = Math.min(span.to, from);
    else span.from = Math.max(span.from, from);
  }
}

/** Only what may run at changing levels, or was shut down from inside, needs its life to be priced. */
function livesOfMany(pool: Pool, running: readonly StoredResource[], at: Instant): Promise<Map<string, LifeSpan[]>> {
  const many = running.filter(({ kind, state, runSince }) => state === "halted" || (kind !== "machine" && runSince !== null));
  if (many.length === 0) return Promise.resolve(new Map());
  return livesOf(
    pool,
    many.map(({ id }) => id),
    { from: at - 1, to: at },
  );
}
