import { expect, test } from "vitest";
import type { Resource } from "../plan";
import type { Decision } from "./decide";
import { mixedDecisions, withMembers } from "./mixed";

const group = (level: number): Resource =>
  ({ id: "g", kind: "group", level, target: level, state: "running" }) as unknown as Resource;
const decided = (more: Partial<Decision>): Decision =>
  ({ resourceId: "g", verdict: "as due", due: 10, action: null, reasons: [{ code: "no rule" }], ...more }) as Decision;
const turn = (decision: Decision, { level, there, up }: { level: number; there: number; up: number }, standing?: number) => {
  const { decisions, wanted } = mixedDecisions([decision], {
    groups: new Map([["g", group(level)]]),
    units: new Map([["g", { there, up }]]),
    standing: new Map(standing === undefined ? [] : [["g", standing]]),
  });
  return { decision: decisions[0], wanted: wanted.get("g") };
};

test("a group is seen with all that it has, and what it has of itself goes as members come up, never the other way", () => {
  const [seen] = withMembers([group(4)], new Map([["g", { there: 6, up: 3 }]]));
  expect(seen).toMatchObject({ level: 10, target: 10, state: "running" });
  expect(turn(decided({}), { level: 4, there: 6, up: 3 })).toMatchObject({
    decision: { verdict: "as due", action: null },
    wanted: 10,
  });
  const going = turn(decided({}), { level: 4, there: 10, up: 8 });
  expect(going).toMatchObject({ decision: { verdict: "act", action: { verb: "resize", level: 2 } }, wanted: 10 });
  const more = turn(decided({ verdict: "act", due: 12 as never, action: { verb: "resize", level: 12, note: null } as never }), {
    level: 0,
    there: 10,
    up: 10,
  });
  expect(more).toMatchObject({ decision: { verdict: "as due", action: null }, wanted: 12 });
});

test("where a person is asked nothing is taken off; where nothing speaks the mix says how many; what is closed is left", () => {
  const braked = turn(decided({ verdict: "braked", due: 0 as never }), { level: 2, there: 6, up: 6 });
  expect(braked).toMatchObject({ decision: { verdict: "braked" }, wanted: 8 });
  expect(turn(decided({ verdict: "left", due: null }), { level: 0, there: 6, up: 6 }, 7).wanted).toBe(7);
  expect(turn(decided({ verdict: "left", due: null }), { level: 0, there: 6, up: 6 }).wanted).toBeNull();
  expect(turn(decided({ verdict: "waiting" }), { level: 0, there: 6, up: 6 }, 7).wanted).toBeNull();
});
