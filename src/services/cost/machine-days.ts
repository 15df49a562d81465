import type { Level } from "@/core/hours";
import { alarmReasonWords } from "@/core/idle";
import { hasLife, listedAt, type ResourceState } from "@/core/plan";
import { centsOf, NO_AMOUNT } from "@/core/pricing";
import { dueOver, OVERRIDES, overriddenSign } from "@/core/rounds";
import { costOver, totalOf } from "@/core/spend";
import { DAY_S, formatDate, type Instant, utcDate } from "@/core/time";
import {
  alarmChanges,
  fullInventory,
  livesOf,
  overridesBetween,
  planEdges,
  priceBooks,
  searchActions,
  spendDayList,
} from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";
import { claimsOf, currencyOf, followingOf, loadSnapshot, placeIn, withPlansAt } from "../inventory";
import { cardsOf } from "./cards";
import { poolThen } from "./pool-then";

export const LIFE_DAYS = 28;

/** Something that happened to a machine, to be marked on its life. */
export type LifeMark = Readonly<{
  at: Instant;
  kind: "warned" | "tripped" | "left on" | "hold" | "start kept" | "round" | "person";
  words: string;
}>;

/** Four weeks of one machine on one axis of time: what it was, what was due by the plans of then, what happened, and what each UTC day cost. */
export type MachineDays = Readonly<{
  from: Instant;
  to: Instant;
  spans: readonly Readonly<{ from: Instant; to: Instant; state: ResourceState; level: Level }>[];
  due: readonly Readonly<{ from: Instant; to: Instant; level: Level | null }>[];
  marks: readonly LifeMark[];
  /** In cents of the currency, after what commitments paid of it; before that on a day that is not closed yet. */
  days: readonly Readonly<{ day: string; cents: number }>[];
  currency: string;
}>;

const MARKS = 1_000;

/** Throws a RefusedError where there is no such machine. */
export async function machineDays(services: Services, actor: Actor, { id }: { id: string }): Promise<MachineDays> {
  authorise(actor, "look", ESTATE);
  const { pool } = services;
  const [{ now }, snapshot, all, prices] = await Promise.all([
    services.clock.read(),
    loadSnapshot(services),
    fullInventory(pool),
    priceBooks(pool),
  ]);
  const resource = all.find((one) => one.id === id);
  if (!resource || !hasLife(resource)) throw new RefusedError("not_found", `There is no machine ${id}.`);
  const today = Math.floor(now / DAY_S) * DAY_S;
  const from = today - (LIFE_DAYS - 1) * DAY_S;
  const [lives, edges, holds, alarms, actions, spent] = await Promise.all([
    livesOf(pool, [id], { from, to: now }),
    planEdges(pool, { from: from + 1, to: now }),
    overridesBetween(pool, { from, to: now }),
    alarmChanges(pool, { resourceId: id, from, limit: MARKS }),
    searchActions(pool, { resourceId: id, text: "", status: "", from, to: now, before: null, limit: MARKS }),
    spendDayList(pool, { from: utcDate(from), to: utcDate(now), ids: [id] }),
  ]);
  const life = (lives.get(id) ?? []).map((span) => ({ ...span, from: Math.max(from, span.from) }));
  const due: MachineDays["due"][number][] = [];
  const stretches = [from, ...edges, now];
  for (const [i, begin] of stretches.entries()) {
    const end = stretches[i + 1];
    if (end === undefined || end <= begin) continue;
    // The past is told by what then was: plans, hours, tags.
    const then = await withPlansAt(pool, snapshot, begin);
    const listed = listedAt(resource, begin);
    const one = {
      ...listed,
      ...placeIn({ ...then, resources: await poolThen(pool, { all, then, one: listed, at: begin }) }, id),
    };
    const claim = claimsOf({ ...then, resources: [one] })[0] ?? null;
    if (!claim) due.push({ from: begin, to: end, level: null });
    else
      due.push(
        ...dueOver(one, followingOf(claim, holds), { from: begin, to: end }).map(({ from: a, to: b, level }) => ({
          from: a,
          to: b,
          level,
        })),
      );
  }
  const fleets = new Set(claimsOf({ ...snapshot, resources: [resource] }).flatMap((claim) => (claim ? [claim.plan.name] : [])));
  const own = holds.filter((hold) => hold.resourceId === id || (hold.resourceId === null && fleets.has(hold.fleet ?? "")));
  const marks: LifeMark[] = [
    ...alarms.flatMap(({ at, state, words, reason }): LifeMark[] =>
      state === "warned" || state === "tripped" || state === "left on"
        ? [{ at, kind: state, words: state === "left on" ? alarmReasonWords(reason, words) : words }]
        : [],
    ),
    ...own
      .filter(({ kind }) => OVERRIDES[kind].isMarked)
      .map(
        ({ from: at, level, reason, person, kind }): LifeMark => ({
          at,
          kind: kind === "start" ? "start kept" : "hold",
          words: kind === "start" ? reason : `${overriddenSign({ kind, level })} by ${person}: ${reason}`,
        }),
      ),
    ...actions.flatMap(({ sentAt, verb, askedBy, why, status }): LifeMark[] =>
      sentAt === null
        ? []
        : [{ at: sentAt, kind: askedBy === "worker" ? "round" : "person", words: `${verb}, ${status}: ${why}` }],
    ),
  ].sort((a, b) => a.at - b.at);
  const closed = new Map(spent.map(({ day, cost }) => [day, totalOf(cost)]));
  const cards = cardsOf(prices, snapshot.capabilities)(resource, from, now) ?? [];
  const days = Array.from({ length: LIFE_DAYS }, (_, i) => {
    const [begin, end] = [from + i * DAY_S, Math.min(now, from + (i + 1) * DAY_S)];
    const day = formatDate(begin / DAY_S);
    const soFar = () => totalOf(costOver({ life: lives.get(id) ?? [], cards, from: begin, to: end, knownTo: end + 1 }));
    return { day, cents: Number(centsOf(closed.get(day) ?? (end > begin ? soFar() : NO_AMOUNT))) };
  });
  return {
    from,
    to: now,
    spans: life.filter((span) => span.to > from),
    due,
    marks: marks.filter(({ at }) => at >= from),
    days,
    currency: currencyOf(snapshot),
  };
}
