import type { Resource } from "@/core/plan";
import {
  type Amount,
  amountOf,
  centsOf,
  formatCents,
  formatMicros,
  type Micros,
  type MoneyView,
  microsOf,
  roundedShares,
} from "@/core/pricing";
import { type CostItem, type CostPiece, costPieces } from "@/core/spend";
import { DAY_S, HOUR_S, type Instant, tryParseDate, utcDate } from "@/core/time";
import { fullInventory, livesOf, priceBooks } from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";
import { currencyOf, loadSnapshot } from "../inventory";
import { startOfMonth } from "./burn/month";
import { cardsOf } from "./cards";
import { computeLives } from "./compute-costs";

/** A term of a machine's cost as it is shown; shown amounts add up to the shown total. */
export type CostTerm = Readonly<
  Pick<CostPiece, "item" | "from" | "to" | "seconds" | "state" | "level" | "isRounding"> & { perHour: string; amount: string }
>;

/** What one machine cost over UTC days, down to its runs and rates. */
export type MachineCost = Readonly<{
  resource: Pick<Resource, "id" | "name" | "kind" | "fields">;
  from: string;
  /** The last day, which may not be over. */
  to: string;
  now: Instant;
  currency: string;
  view: MoneyView;
  terms: readonly CostTerm[];
  byItem: readonly Readonly<{ item: CostItem; amount: string }>[];
  /** What commitments have paid of it; nothing of it is in the terms. */
  covered: string;
  total: string;
}>;

export type MachineCostQuery = Readonly<{ id: string; from: string | null; to: string | null; view?: MoneyView }>;
const DAYS_MAX = 92;

/** A machine's cost of some UTC days, both included; of the month so far where none are named. Throws a RefusedError where there is no such machine or span. */
export async function machineCost(services: Services, actor: Actor, query: MachineCostQuery): Promise<MachineCost> {
  authorise(actor, "look", ESTATE);
  const { pool } = services;
  const { id, view = "after" } = query;
  const [{ now }, snapshot, all, prices] = await Promise.all([
    services.clock.read(),
    loadSnapshot(services),
    fullInventory(pool),
    priceBooks(pool, view),
  ]);
  const resource = all.find((one) => one.id === id);
  if (!resource) throw new RefusedError("not_found", `There is no machine ${id}.`);
  const span = spanOf(query, now);
  const [from, to] = [span.from * DAY_S, Math.min(now, (span.to + 1) * DAY_S)];
  const lives = await livesOf(pool, null, { from, to: Math.min(now, to + 1) });
  const life = lives.get(id) ?? [];
  const knownTo = Math.min(now, to + 1);
  const cards = cardsOf(prices, snapshot.capabilities)(resource, life[0]?.from ?? from, to) ?? [];
  const pieces = costPieces({ life, cards, from, to, knownTo });
  const covered = coveredOf(
    computeLives(lives, { resources: all, capabilities: snapshot.capabilities, prices, from, to, knownTo }).get(id),
  );
  const gross = pieces.reduce((sum, { amount }) => sum + amount, 0n);
  const shares = roundedShares(pieces.map(({ amount }) => amount));
  const items = [...new Set(pieces.map(({ item }) => item))];
  const cents = (amount: bigint) => formatCents((amount * 10_000n) as Micros);
  // What is left is rounded on its own: it is the figure that is shown elsewhere.
  const [grossCents, netCents] = [centsOf(gross as Amount), centsOf((gross - covered) as Amount)];
  return {
    resource: { id: resource.id, name: resource.name, kind: resource.kind, fields: resource.fields },
    from: utcDate(from),
    to: utcDate(Math.max(from, to - 1)),
    now,
    currency: currencyOf(snapshot),
    view,
    terms: pieces.map(({ amount: _, perSecond, ...piece }, i) => ({
      ...piece,
      perHour: formatMicros(microsOf(amountOf(HOUR_S, perSecond))),
      amount: formatCents(shares[i] as Micros),
    })),
    byItem: items.map((item) => ({
      item,
      amount: formatCents(
        pieces.reduce((sum, piece, i) => sum + (piece.item === item ? (shares[i] as bigint) : 0n), 0n) as Micros,
      ),
    })),
    covered: cents(grossCents - netCents),
    total: cents(netCents),
  };
}

function spanOf({ from, to }: MachineCostQuery, now: Instant): { from: number; to: number } {
  const today = Math.floor(now / DAY_S);
  const first = from === null ? Math.floor(startOfMonth(now) / DAY_S) : tryParseDate(from);
  const last = to === null ? today : tryParseDate(to);
  if (first === null || last === null || last < first || last - first > DAYS_MAX)
    throw new RefusedError(
      "invalid",
      `From ${from} to ${to}: expected two UTC days, at most ${DAYS_MAX} apart, the second not before the first.`,
    );
  return { from: first, to: Math.min(last, today) };
}

function coveredOf(steps: ReadonlyMap<Instant, Readonly<{ covered: Amount }>> | undefined): Amount {
  let sum = 0n;
  for (const { covered } of steps?.values() ?? []) sum += covered;
  return sum as Amount;
}
