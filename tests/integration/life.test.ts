import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR } from "@/services/admin";
import { lifeWeeks, machineLife, openMachine } from "@/services/inventory";
import { change, tell } from "../../standin/world/happen";
import type { Unit } from "../../standin/world/types";
import { within } from "../support/patience";
import { startTrusted, type Trusted } from "../support/trusted";

/** The life of a machine as the application tells it, against what the stand-in's world did. */
let trusted: Trusted;
let desk: Unit;
const keyOf = ({ account, id }: Unit) => `${account}:${id}`;
const life = (text = "", before: number | null = null) =>
  machineLife(trusted.services, DEMO_ACTOR, { id: keyOf(desk), text, before });

/** Every stretch in which something of it ran, from the world's own record. */
function ranInWorld({ life: pieces }: Unit): { from: number; to: number | null }[] {
  const runs: { from: number; to: number | null }[] = [];
  pieces.forEach(({ at, state }, i) => {
    const isOn = state === "running" || state === "starting" || state === "stopping";
    const last = runs.at(-1);
    if (isOn && (i === 0 || last === undefined || last.to !== null)) runs.push({ from: at, to: null });
    else if (!isOn && last && last.to === null) last.to = at;
  });
  return runs;
}

beforeAll(async () => {
  trusted = await startTrusted();
  await trusted.morning();
  trusted.nextEdge();
  await trusted.rounds(6, 61);
  desk = trusted.desks()[3] as Unit;
  // A person starts it between two edges.
  const at = trusted.keeper.now();
  change(desk, { at, state: "running", level: 1 });
  tell(trusted.keeper.world, desk, { at, type: "running", note: "from its own console" });
  await trusted.rounds(1, 5);
}, within(60));
afterAll(() => trusted?.close());

test("its runs are those of the world, from first seen to now, none left out and none made up", async () => {
  const { runs, older, from } = await life();
  expect(older).toBeNull();
  const told = runs.map((run) => ({ from: run.from, to: run.to })).reverse();
  const ran = ranInWorld(desk).filter(({ from: start }) => start > (from ?? 0));
  expect(told.filter((run) => run.from !== null)).toEqual(ran);
  expect(ran.length).toBeGreaterThan(10);
});

test("each run names the round that began and ended it, and one by a person says so", async () => {
  const [hand, office] = (await life()).runs;
  expect(hand).toMatchObject({ to: null, began: { action: null, told: "running, from its own console" }, ended: null });
  expect(office?.began?.action).toMatchObject({ verb: "start", askedBy: "worker", why: expect.stringContaining("hourly") });
  expect(office?.ended?.action).toMatchObject({ verb: "stop", why: expect.stringContaining("off") });
  const { runs } = await openMachine(trusted.services, DEMO_ACTOR, { id: keyOf(desk), at: null });
  expect(runs[0]).toEqual(hand);
});

test("its last seven days are those of the world, as they look from afar", async () => {
  const now = trusted.keeper.now();
  const from = now - 7 * 86_400;
  const { weeks } = await lifeWeeks(trusted.services, DEMO_ACTOR, { ids: [keyOf(desk), "nobody:nothing"], at: null });
  expect(Object.keys(weeks)).toEqual([keyOf(desk)]);
  const week = weeks[keyOf(desk)];
  const ran = ranInWorld(desk).map(({ from: start, to }) => [Math.max(start, from), to ?? now] as const);
  const onS = ran.reduce((sum, [start, to]) => sum + Math.max(0, to - start), 0);
  expect(week?.onHours).toBe(Math.round(onS / 3600));
  const begins = ran.filter(([start, to]) => to > from && start > from).map(([start]) => (start - from) / (now - from));
  const told = (week?.spans ?? []).flatMap(([share, state]) => (state === "on" && share > 0 ? [share] : []));
  expect(told).toHaveLength(begins.length);
  for (const [i, share] of told.entries()) expect(share).toBeCloseTo(begins[i] ?? -1, 3);
  await expect(
    lifeWeeks(trusted.services, DEMO_ACTOR, { ids: Array.from({ length: 201 }, (_, i) => String(i)), at: null }),
  ).rejects.toThrow("At most 200");
});

test("it is searched by reason, person, round and state", async () => {
  expect((await life("console")).runs).toHaveLength(1);
  const [office] = (await life("hourly off")).runs;
  expect(office?.ended?.action?.verb).toBe("stop");
  const round = office?.ended?.action?.roundId;
  expect((await life(`round ${round}`)).runs).toContainEqual(office);
  expect((await life("nobody of that name")).runs).toEqual([]);
});
