import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR } from "@/services/admin";
import { mixStory } from "@/services/mix";
import { tell } from "../../standin/world/happen";
import type { Unit } from "../../standin/world/types";
import { membersOf, startKept, unitsOf } from "../support/mix/kept-fleet";
import { within } from "../support/patience";
import type { Trusted } from "../support/trusted";

/** A cloud that accepts orders and never sends what was ordered. */
let trusted: Trusted;
beforeAll(async () => {
  trusted = await startKept(Date.UTC(2027, 2, 16, 7) / 1000);
  await trusted.rounds(8);
}, within(120));
afterAll(() => trusted?.close());

const members = () => membersOf(trusted.keeper.world);
const story = () => mixStory(trusted.services, DEMO_ACTOR, { fleet: "tiles", hours: 48 });
function evict(unit: Unit): void {
  const { world } = trusted.keeper;
  const at = world.doneUntil;
  tell(world, unit, { at, type: "eviction notice" });
  unit.pending = null;
  unit.life.push({ at, state: "gone", level: 0 });
  tell(world, unit, { at, type: "evicted" });
}

test(
  "what is accepted and never comes is told, its gap is as old as the loss, and after its minutes full price stands in",
  async () => {
    expect(unitsOf(members())).toBe(10);
    const lost = members().filter(({ purchase }) => purchase === "spot");
    let ghosts = 0;
    // Spot is sold by this cloud alone, and none of it comes; what is at full price does.
    trusted.faults.rule(({ kind, path, body }) =>
      kind === "act" && path.endsWith("/order") && JSON.parse(body).purchase === "spot"
        ? { kind: "answer", status: 202, body: JSON.stringify({ resource: { id: `ghost-${++ghosts}` } }) }
        : undefined,
    );
    const at = trusted.keeper.now();
    for (const unit of lost.slice(0, 4)) evict(unit);
    const gone = 10 - unitsOf(members());
    expect(gone).toBeGreaterThan(3);
    await trusted.rounds(12, 60);
    expect(ghosts).toBeGreaterThan(0);
    // Twelve minutes later none has come: that is told, and all of them are missing since they were lost.
    const [kept] = (await story()).kept;
    expect(kept?.neverCame.reduce((sum, { count }) => sum + count, 0)).toBeGreaterThan(0);
    expect(kept?.missingSince ?? Number.POSITIVE_INFINITY).toBeLessThanOrEqual(at + 60);
    // The fallback counts from the loss: twenty minutes after it, and not after the last order.
    const lines = async () => (await story()).lines.filter(({ cause }) => cause === "evicted");
    let onTheirWay = 0;
    for (let round = 0; round < 16; round++) {
      await trusted.round();
      trusted.keeper.stepTo(trusted.keeper.now() + 60);
      onTheirWay += (await lines()).filter(({ orderedAt, closedAt }) => orderedAt !== null && closedAt === null).length;
    }
    expect(unitsOf(members())).toBe(10);
    const standing = members().filter(({ purchase, life }) => purchase !== "spot" && (life[0]?.at ?? 0) > at);
    expect(standing.length).toBeGreaterThanOrEqual(gone);
    trusted.faults.rule(() => undefined);
    // What stands in is on its way until it is up; only then is a loss made good, and no sooner than it ran.
    expect(onTheirWay).toBeGreaterThan(0);
    await trusted.rounds(10, 60);
    for (const { since, orderedAt, closedAt, minutes } of await lines()) {
      expect(closedAt).toBeGreaterThan(orderedAt ?? Number.POSITIVE_INFINITY);
      expect(Math.round(((closedAt ?? 0) - since) / 60)).toBe(minutes);
    }
  },
  within(60),
);
