import type { Resource } from "@/core/plan";
import { DAY_S, type Instant, MINUTE_S } from "@/core/time";
import { log } from "@/log";
import {
  closeFilledGaps,
  everListed,
  givenBackSince,
  LostLeadError,
  lastRefusals,
  type MixMember,
  memberNews,
  mixMembers,
  noteIll,
  noteNotices,
  openGaps,
  priceBooks,
  reopenMixMembers,
  whileLeading,
} from "@/store";
import type { Services } from "../admin";
import { GroupReconciler } from "./group-reconciler";
import { membersIll } from "./health";
import { type MixedGroup, mixedGroups } from "./mixed-groups";
import type { Asked, MixReconciling } from "./reconciling";
import { resend } from "./send-orders";
import { callOffOthers, windDown } from "./wind-down";

/** Refusals further back say nothing. */
const REFUSALS_S = DAY_S;

/** The members that run and are set up, and since when. */
function upSince(
  members: readonly MixMember[],
  { groups, byId, now }: { groups: readonly MixedGroup[]; byId: ReadonlyMap<string, Resource>; now: Instant },
): ReadonlyMap<string, Instant> {
  const setupOf = new Map(groups.map(({ group, mix }) => [group.id, (mix.setupMinutes ?? 0) * MINUTE_S]));
  return new Map(
    members.flatMap(({ resourceId, groupId }) => {
      const one = byId.get(resourceId);
      const at = one?.state === "running" ? one.since + (setupOf.get(groupId) ?? 0) : Number.POSITIVE_INFINITY;
      return at <= now ? [[resourceId, at] as const] : [];
    }),
  );
}

/** The machines that mixes have; one that was missing from a listing and is there again is one of them again. */
async function membersNow(
  { pool }: Services,
  { snapshot, lead, closed }: MixReconciling,
  known: readonly MixMember[],
): Promise<readonly MixMember[]> {
  const ids = new Set(known.map(({ resourceId }) => resourceId));
  const others = snapshot.resources.filter(
    ({ id, kind, state, fields }) => kind === "member" && state !== "gone" && !ids.has(id) && !closed.has(fields.account ?? ""),
  );
  if (others.length === 0) return known;
  const back = await whileLeading(pool, lead, (tx) =>
    reopenMixMembers(
      tx,
      others.map(({ id }) => id),
    ),
  );
  return [...known, ...back];
}

/**
 * Keeps every group of a plan with a mix at it: what has gone is a gap, gaps are filled by the mix's order, each order recorded
 * before it is sent. Groups are kept apart from each other; one that fails leaves the others alone. Returns the accounts in which something was asked for, and how often.
 */
export async function reconcileMixes(services: Services, keeping: MixReconciling): Promise<Asked> {
  const { pool } = services;
  const { snapshot, lead } = keeping;
  const groups = mixedGroups(snapshot);
  // First: what it brings is there before anything else is asked for.
  const { count: resent, unsure } = await resend(services, keeping);
  const members = await membersNow(services, keeping, resent > 0 ? await mixMembers(pool) : keeping.members);
  if (groups.length === 0 && members.length === 0) return { accounts: new Set(), count: resent };
  const byGroup = new Map<string, MixMember[]>();
  for (const member of members) byGroup.set(member.groupId, [...(byGroup.get(member.groupId) ?? []), member]);
  const [news, refusals, { history }] = await Promise.all([
    memberNews(
      pool,
      members.map(({ resourceId }) => resourceId),
    ),
    lastRefusals(pool, keeping.now - REFUSALS_S),
    priceBooks(pool),
  ]);
  const notices = [...news].flatMap(([id, { noticedAt }]) => (noticedAt === null ? [] : [[id, noticedAt] as const]));
  const byId = new Map(snapshot.resources.map((one) => [one.id, one]));
  const ill = await membersIll(pool, members, { news, byId, now: keeping.now });
  await whileLeading(pool, lead, async (tx) => {
    await noteNotices(tx, new Map(notices));
    await noteIll(tx, ill);
    await closeFilledGaps(tx, upSince(members, { groups, byId, now: keeping.now }));
  });
  const known = await everListed(
    pool,
    members.flatMap(({ resourceId }) => (byId.has(resourceId) ? [] : [resourceId])),
  );
  const accounts = new Set<string>();
  let count = resent;
  const gaps = await openGaps(pool);
  await callOffOthers(services, keeping, { gaps, groups });
  const results = await Promise.allSettled(
    groups.map(async ({ group, plan, mix }) => {
      const kept = new GroupReconciler(services, keeping, {
        group,
        plan,
        mix,
        members: byGroup.get(group.id) ?? [],
        news,
        ill,
        known,
        gaps: gaps.get(group.id) ?? [],
        refusals: refusals.get(group.id) ?? new Map(),
        book: history.bookAt(keeping.now),
        replaced: await givenBackSince(pool, group.id, { cause: "unhealthy", since: keeping.now - DAY_S }),
        isUnsure: unsure.has(group.id),
      });
      const steps = await kept.keep();
      if (steps > 0) accounts.add(group.fields.account ?? "");
      count += steps;
    }),
  );
  const down = await windDown(services, keeping, byGroup);
  for (const account of down.accounts) accounts.add(account);
  for (const result of results) {
    if (result.status === "fulfilled") continue;
    if (result.reason instanceof LostLeadError) throw result.reason;
    log.error({ err: result.reason }, "a group could not be kept at its mix");
  }
  return { accounts, count: count + down.count };
}
