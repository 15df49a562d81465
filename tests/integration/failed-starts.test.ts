import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR } from "@/services/admin";
import { burnPage } from "@/services/cost";
import { openMachine } from "@/services/inventory";
import { fleetSummaries, openWorkbench } from "@/services/plans";
import { actionsSince, attention, journalPage } from "@/services/rounds";
import type { Unit } from "../../standin/world/types";
import { within } from "../support/patience";
import { startTrusted, type Trusted } from "../support/trusted";

/** Machines that are due on, and a cloud that has none of them: who is told, where, and of what. */
let trusted: Trusted;
const keyOf = ({ account, id }: Unit) => `${account}:${id}`;
const WHY = "no lantern-8 to be had";
beforeAll(async () => {
  trusted = await startTrusted();
  await trusted.morning();
  trusted.nextEdge();
  await trusted.rounds(4, 61);
}, within(60));
afterAll(() => trusted?.close());

test("a start that fails is said on the machine, its fleet, the list of fleets and Burn, and each try of it in the journal", async () => {
  const { services, faults, keeper } = trusted;
  const [desk] = trusted.desks() as [Unit];
  faults.rule(({ kind, path }) =>
    kind === "act" && path.includes(desk.id)
      ? { kind: "answer", status: 409, body: JSON.stringify({ error: { code: "no_capacity", message: WHY } }) }
      : undefined,
  );
  trusted.nextEdge();
  const since = keeper.now();
  await trusted.round();
  await trusted.rounds(9, 61);

  const { missing } = await openMachine(services, DEMO_ACTOR, { id: keyOf(desk), at: null });
  expect(missing?.lastAnswer).toContain(WHY);
  expect(missing?.attempts).toBeGreaterThan(1);
  const summaries = await fleetSummaries(services, DEMO_ACTOR);
  const desks = summaries.find(({ name }) => name === "desks");
  expect(desks).toMatchObject({ missing: 1 });
  const bench = await openWorkbench(services, DEMO_ACTOR, desks?.id ?? 0);
  expect(bench.missing.map(({ name }) => name)).toEqual([desk.name]);
  expect((await attention(services, DEMO_ACTOR)).map(({ kind }) => kind)).toEqual(["missing"]);
  const query = {
    filters: [],
    group: "none",
    sort: "name",
    isDescending: false,
    only: "all",
    opened: [],
    offset: 0,
    limit: 1,
    at: null,
  } as const;
  expect((await burnPage(services, DEMO_ACTOR, query)).missing).toBe(1);

  // Every round in which it was tried again says so, and none of them is folded away as quiet.
  const { entries } = await journalPage(services, DEMO_ACTOR, { before: null, at: null });
  const rounds = entries.flatMap((entry) => (entry.kind === "round" && entry.round.at >= since ? [entry.round] : []));
  const again = rounds.filter((round) => round.again > 0);
  expect(again.length).toBeGreaterThan(1);
  expect(again.every((round) => round.tried >= round.again && round.sent === 0)).toBe(true);
  const { lines } = await actionsSince(services, DEMO_ACTOR, { resourceId: keyOf(desk), since });
  expect(lines[0]).toMatchObject({ verb: "start", status: "sent", endedAt: null, lastAnswer: expect.stringContaining(WHY) });
});

test("once there is some again it starts, and nothing is missing any more", async () => {
  const { services, faults } = trusted;
  const [desk] = trusted.desks() as [Unit];
  faults.rule(() => undefined);
  await trusted.rounds(20, 61);
  expect(desk.life.at(-1)?.state).toBe("running");
  expect((await openMachine(services, DEMO_ACTOR, { id: keyOf(desk), at: null })).missing).toBeNull();
  expect(await attention(services, DEMO_ACTOR)).toEqual([]);
  const { lines } = await actionsSince(services, DEMO_ACTOR, { resourceId: keyOf(desk), since: 0 });
  expect(lines[0]).toMatchObject({ verb: "start", status: "done" });
});
