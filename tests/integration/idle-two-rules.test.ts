import { afterAll, beforeAll, expect, test } from "vitest";
import { ruleKey } from "@/core/idle";
import { DEMO_ACTOR, WORKER } from "@/services/admin";
import { setOwnersMail } from "@/services/idle";
import { notifyOfEvents } from "@/services/notify";
import { alarmChanges, fleetList } from "@/store";
import type { Unit } from "../../standin/world/types";
import { within } from "../support/patience";
import { startTrusted, type Trusted } from "../support/trusted";

/** One preset pressed twice: the first only tells, the second stops. They read the same. */
const RULE = (action: string) => `
      - match: all
        conditions:
          - { metric: sessions.active, statistic: max, op: "<", threshold: 1, window: 30 }
        warn: 10
        settle: 20
        action: ${action}`;
const PLAN = `
umbrik: 1
schedules:
  - name: long
    zone: UTC
    rows: [{ day: daily, spans: ["06:00-24:00"] }]
fleets:
  - name: desks
    select: team = draughting and region = fjord-1 and name ~ desk-osl-0*
    hours: long
    idle:${RULE("tell")}${RULE("stop")}${RULE("stop")}
`;

let trusted: Trusted;
beforeAll(async () => {
  trusted = await startTrusted(PLAN, ["desks"], { at: Date.UTC(2027, 2, 16, 16, 0, 20) / 1000, accounts: ["skerry-desks"] });
  await setOwnersMail(trusted.services, DEMO_ACTOR, { tag: "owner", domain: "skerrywick.example" });
}, within(60));
afterAll(() => trusted?.close());

test("of two rules that read the same each is found by itself: the mail before a stop never says that nothing is done about it", async () => {
  const { services } = trusted;
  const [fleet] = await fleetList(services.pool);
  const keyOf = (action: string) =>
    ruleKey(fleet?.inForce?.idle?.find((rule) => rule.action === action) as Parameters<typeof ruleKey>[0]);
  const desks = () => trusted.desks().filter(({ name }) => name < "desk-osl-10");
  const isOff = (unit: Unit) => unit.life.at(-1)?.state === "stopped";
  for (let i = 0; i < 120 && !desks().some(isOff); i++) await trusted.rounds(1, 60);
  const desk = desks().find(isOff) as Unit;
  const changes = await alarmChanges(services.pool, { resourceId: `${desk.account}:${desk.id}`, limit: 20 });
  const of = (action: string) => changes.filter(({ ruleKey: key }) => key === keyOf(action)).map(({ state }) => state);
  expect(of("stop")).toContain("tripped");
  expect(of("stop").filter((state) => state === "tripped")).toHaveLength(1);
  expect(of("tell")).toContain("tripped");
  await notifyOfEvents(services, WORKER);
  const { rows } = await services.pool.query<{ subject: string; text: string }>(
    "select subject, text from mail where kind = 'idle' and subject like $1 order by id",
    [`${desk.name} %`],
  );
  const stopping = rows.filter(({ subject }) => /is stopped at|being stopped/.test(subject));
  expect(stopping.map(({ subject }) => subject.replace(/\d{4}.*Oslo/, "…"))).toEqual([
    `${desk.name} is idle: it is stopped at … unless you leave it on`,
    `${desk.name} was idle and is being stopped`,
  ]);
  for (const { text } of stopping) expect(text).not.toContain("Nothing is done about it");
  const told = rows.filter(({ text }) => text.includes("Nothing is done about it"));
  expect(told.every(({ subject }) => subject === `${desk.name} is idle`)).toBe(true);
  expect(told.length).toBeGreaterThan(0);
});
