import { expect, test } from "vitest";
import type { FleetDraft } from "@/core/plan";
import { differingFields, merged } from "./merge-drafts";

const BASE: FleetDraft = {
  name: "desks",
  select: "team = draughting",
  hours: "office",
  lead: 0,
  offAction: "stop",
  starts: "plan",
  enforce: "always",
  grace: 120,
  schedule: null,
};
const week = (spans: string[]) => ({ name: "office", zone: "UTC", outside: "off", rows: [{ day: "workdays", spans }] });

test("only what differs is asked, with who has changed it", () => {
  const mine = { ...BASE, lead: 10, schedule: week(["08:00-18:00"]) };
  const theirs = { ...BASE, lead: 15, grace: 60 };
  const fields = differingFields(BASE, mine, theirs).map(({ key, isMineChanged, isTheirsChanged }) => [
    key,
    isMineChanged,
    isTheirsChanged,
  ]);
  expect(fields).toEqual([
    ["hours", true, false],
    ["lead", true, true],
    ["grace", false, true],
  ]);
  expect(differingFields(BASE, mine, mine)).toEqual([]);
  expect(differingFields(BASE, mine, theirs)[0]).toMatchObject({
    mine: "office, UTC: workdays 08:00-18:00",
    theirs: "office, as stored",
  });
});

test("the order of keys is no difference", () => {
  const mine = { ...BASE, schedule: week(["08:00-18:00"]) };
  const { schedule: _, ...rest } = BASE;
  const rows = [{ spans: ["08:00-18:00"], day: "workdays" }];
  const theirs = { schedule: { rows, outside: "off", zone: "UTC", name: "office" }, ...rest };
  expect(differingFields(BASE, mine, theirs)).toEqual([]);
});

test("what is taken is taken whole, the week with the hours that name it, and the rest stays mine", () => {
  const mine = { ...BASE, lead: 10, schedule: week(["08:00-18:00"]) };
  const theirs = { ...BASE, hours: "night", schedule: { ...week(["20:00-06:00"]), name: "night" }, lead: 15 };
  expect(merged(mine, theirs, new Set(["hours"]))).toEqual({ ...mine, hours: "night", schedule: theirs.schedule });
  expect(merged(mine, theirs, new Set())).toEqual(mine);
  expect(merged(mine, theirs, new Set(["hours", "lead"]))).toEqual(theirs);
});
