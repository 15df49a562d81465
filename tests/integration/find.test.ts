import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR, type Services, WORKER } from "@/services/admin";
import { findResources } from "@/services/inventory";
import { loadPlan } from "@/services/plans";
import { placeHold, runRound } from "@/services/rounds";
import { within } from "../support/patience";
import { type Here, startHere } from "../support/weeks/standin-here";

/** Whatever there is can be found, on or off, by what a person knows of it. */
const START = Date.UTC(2027, 2, 16, 20) / 1000;
const PLAN = `
umbrik: 1
schedules:
  - { name: office, zone: UTC, rows: [{ day: workdays, spans: ["07:00-18:00"] }] }
fleets:
  - { name: oslo, select: "team = draughting and region = fjord-1", hours: office }
`;
let here: Here;
let services: Services;
beforeAll(async () => {
  here = await startHere(START);
  services = here.services;
  await runRound(services, WORKER, "act");
  await loadPlan(services, DEMO_ACTOR, { text: PLAN, inForce: ["oslo"] });
  await runRound(services, WORKER, "act");
}, within(60));
afterAll(() => here?.close());

const find = (text: string, at: number | null = null) => findResources(services, DEMO_ACTOR, { text, offset: 0, limit: 100, at });
const names = async (text: string) => (await find(text)).items.map(({ name }) => name);

test("by name, whole ones first; by words of the owner, a tag, a selector, the address of its page", async () => {
  const { rows } = await services.pool.query<{ id: string; name: string; owner: string }>(
    "select id, name, tags->>'owner' as owner from resource where state = 'stopped' and kind = 'machine' and tags ? 'owner' limit 1",
  );
  const [off] = rows;
  if (!off) throw new Error("nothing is off");
  expect((await names(off.name))[0]).toBe(off.name);
  expect(await names(off.name.slice(0, -1))).toContain(off.name);
  expect(await names(`${off.owner.split("@")[0]?.toUpperCase()} ${off.name.slice(0, 4)}`)).toContain(off.name);
  expect(await names(`owner = "${off.owner}"`)).toContain(off.name);
  expect(await names(`https://umbrik.example/machines/${encodeURIComponent(off.id)}/cost?at=x`)).toEqual([off.name]);
  expect((await names("fjord-1 draughting")).filter((name) => name.startsWith("desk-osl"))).toHaveLength(28);
  expect((await find("no such thing")).items).toEqual([]);
});

test("everything is in the list, loose disks too, page by page; as of another instant it is what there was", async () => {
  const { rows } = await services.pool.query<{ n: number }>("select count(*)::integer as n from resource where state <> 'gone'");
  const { total, tagKeys } = await find("");
  expect(total).toBe(rows[0]?.n);
  expect(tagKeys).toContain("team");
  expect((await find("kind = disk")).total).toBeGreaterThan(5);
  const pages = await Promise.all(
    [0, 100].map((offset) => findResources(services, DEMO_ACTOR, { text: "", offset, limit: 100, at: null })),
  );
  expect(new Set(pages.flatMap(({ items }) => items.map(({ id }) => id))).size).toBe(200);
  const noon = await find("team = draughting and region = fjord-1", START - 8 * 3600);
  expect(noon.items.some(({ level, startLevel }) => level > 0 && startLevel === null)).toBe(true);
  expect(noon.items.every(({ startLevel }) => startLevel === null)).toBe(true);
});

test("what is off in a fleet in force can be started by a hold, and is not offered again once it starts", async () => {
  const desks = await find("team = draughting and region = fjord-1");
  const off = desks.items.find(({ level }) => level === 0);
  expect(off).toMatchObject({ fleet: "oslo", startLevel: 1 });
  expect((await find("kind = disk")).items.every(({ startLevel }) => startLevel === null)).toBe(true);
  const elsewhere = (await find("team = training")).items.filter(({ level }) => level === 0);
  expect(elsewhere.length > 0 && elsewhere.every(({ startLevel }) => startLevel === null), "no fleet in force has them").toBe(
    true,
  );
  await placeHold(services, DEMO_ACTOR, {
    on: { resourceId: off?.id ?? "" },
    level: 1,
    until: null,
    reason: "asked by its owner",
  });
  await runRound(services, WORKER, "act");
  const [now] = (await find(off?.name ?? "")).items;
  expect(now).toMatchObject({ state: "starting", startLevel: null });
});

test("a group that is off is started at its own size, not at one", async () => {
  const { pool } = services;
  const { rows } = await pool.query<{ name: string }>("select name from resource where kind = 'group' order by name limit 1");
  const name = rows[0]?.name ?? "";
  const text = `${PLAN}  - { name: of-many, select: "name = ${name}", hours: office }\n`;
  await loadPlan(services, DEMO_ACTOR, { text, inForce: ["oslo", "of-many"] });
  await runRound(services, WORKER, "act");
  await pool.query("update resource set own_size = 6, level = 0, target = 0, state = 'stopped' where name = $1", [name]);
  expect((await find(`name = ${name}`)).items[0]).toMatchObject({ fleet: "of-many", startLevel: 6 });
});
