import { afterAll, beforeAll, expect, test } from "vitest";
import type { Unit } from "../../standin/world/types";
import { within } from "../support/patience";
import { startTrusted, type Trusted } from "../support/trusted";

/** A pool of which eighteen are to be on, and a cloud that has no room for four of them. */
const PLAN = `
umbrik: 1
schedules:
  - name: counts
    zone: UTC
    rows: [{ day: daily, spans: ["00:00-10:00 x4", "10:00-24:00 x18"] }]
fleets:
  - name: desks
    select: team = draughting and region = fjord-1
    hours: counts
    pooled: { spare: 0, settle: 10 }
`;
const NIGHT = Date.UTC(2027, 2, 20, 8) / 1000;

let trusted: Trusted;
beforeAll(async () => {
  trusted = await startTrusted(PLAN, ["desks"], { at: NIGHT, accounts: ["skerry-desks"] });
}, within(60));
afterAll(() => trusted?.close());

const stateOf = (unit: Unit) => unit.life.at(-1)?.state;

test(
  "machines whose start fails for capacity give their places to others that can be started, and eighteen are on",
  async () => {
    const { faults } = trusted;
    await trusted.rounds(30, 120);
    expect(trusted.running()).toBeLessThan(14);
    // The four that are started first are full.
    const full = new Set<string>();
    faults.rule(({ kind, path }) => {
      const id = trusted.desks().find((unit) => path.includes(`/${unit.id}/start`))?.id;
      if (kind !== "act" || id === undefined || (!full.has(id) && full.size === 4)) return undefined;
      full.add(id);
      return { kind: "answer", status: 409, body: JSON.stringify({ error: { code: "no_capacity", message: "full" } }) };
    });
    trusted.keeper.stepTo(Date.UTC(2027, 2, 20, 10, 0, 5) / 1000);
    await trusted.round();
    await trusted.rounds(20, 61);
    expect(full.size).toBe(4);
    expect(trusted.running()).toBe(18);
    expect(trusted.desks().filter((unit) => full.has(unit.id) && stateOf(unit) === "running")).toEqual([]);
  },
  within(60),
);
