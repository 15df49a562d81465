import { ROUND_EVERY_S } from "@/core/rounds";
import { readClouds } from "../../inventory";
import { reconcileMixes } from "../../mix";
import { portsFor } from "../ports";
import { type Round, type RoundState, step } from "./round";

/** Keeps groups at their mixes. What was just asked for shows at once. */
export const mix = step({
  name: "mix",
  isRehearsed: false,
  ask: keepAll,
  follow: (_, kept) => ({ state: { kept } }),
});

async function keepAll(
  { services, id, lead, now }: Round,
  { snapshot, members, decided, closed, rules, before }: RoundState,
): Promise<number> {
  const { decisions, wanted } = decided;
  const asDue = new Set(decisions.flatMap(({ resourceId, verdict }) => (verdict === "as due" ? [resourceId] : [])));
  const asked = await reconcileMixes(services, {
    snapshot,
    members,
    wanted,
    asDue,
    closed,
    rules,
    lead,
    roundId: id,
    now,
    before: before ?? now - ROUND_EVERY_S,
    ...portsFor(services, snapshot),
  });
  if (asked.accounts.size > 0) await readClouds(services, now, { lead, only: asked.accounts });
  return asked.count;
}
