import { fixOwnSizes, heldStops, lastFullRound, mixMembers, openActionList, overridesFrom, readDataVersions } from "@/store";
import { WORKER } from "../../admin";
import { metricsWatched } from "../../idle";
import { claimsOf, loadSnapshot, readClouds, type Snapshot } from "../../inventory";
import { pullLatest, readLatest } from "../../metrics";
import { poolsOf, SESSION_METRICS } from "../../ready";
import type { Round } from "./round";
import { step } from "./round";

/** Reads the clouds and what metrics there are, and then all that is stored of them: the one reading of the round. */
export const read = step({
  name: "read",
  isRehearsed: true,
  ask: async (round) => {
    const [closed] = await Promise.all([readClouds(round.services, round.now, { lead: round.lead }), readMetrics(round)]);
    const { pool } = round.services;
    // First: whatever speaks against an action later than this is looked at before it is sent.
    const { rules } = await readDataVersions(pool);
    const [snapshot, overrides, open, held, members, last] = await Promise.all([
      sizedSnapshot(round),
      overridesFrom(pool, round.now),
      openActionList(pool),
      heldStops(pool),
      mixMembers(pool),
      lastFullRound(pool),
    ]);
    return { closed, rules, snapshot, overrides, open, held, members, before: last?.at ?? null };
  },
  follow: (_, read) => ({ state: read }),
});

/** What is new of the metrics that alarms in force look at, and what sources are asked for. */
async function readMetrics({ services, now }: Round): Promise<void> {
  const snapshot = await loadSnapshot(services);
  const { metrics, accounts } = metricsWatched(snapshot);
  const pooled = new Set(poolsOf(snapshot, now).flatMap(({ members }) => members.map(({ fields }) => fields.account)));
  const names = new Set(accounts.map(({ name }) => name));
  const asked = {
    metrics: [...new Set([...metrics, ...(pooled.size > 0 ? SESSION_METRICS : [])])],
    accounts: snapshot.accounts.filter(({ name }) => names.has(name) || pooled.has(name)),
    now,
  };
  await Promise.all([readLatest(services, asked), pullLatest(services, WORKER, now)]);
}

/** What is stored, with what on means fixed for the groups and services that a plan has for the first time. */
async function sizedSnapshot({ services, now }: Round): Promise<Snapshot> {
  const snapshot = await loadSnapshot(services);
  const claims = claimsOf(snapshot);
  const many = snapshot.resources.filter(({ kind }, i) => claims[i] && (kind === "group" || kind === "service"));
  const isNews = await fixOwnSizes(
    services.pool,
    many.map(({ id }) => id),
    now,
  );
  return isNews ? loadSnapshot(services) : snapshot;
}
