import { expect, test } from "vitest";
import { scheduleSchema } from "@/core/hours";
import { mixSchema } from "@/core/mix";
import { type FleetDraft, fleetSchema, planToDraft } from "@/core/plan";
import { type Edit, edited, type History, unedited } from "../kit/history";
import { checkSchedule, differences, planOf, scheduleOf, withSchedule } from "./draft";
import { differingFields } from "./merge-drafts";

const DRAFT: FleetDraft = {
  name: "f",
  select: "team = x",
  hours: null,
  lead: 0,
  offAction: "stop",
  starts: "plan",
  enforce: "always",
  grace: 120,
  schedule: null,
};
const STORED = [
  scheduleSchema.parse({ name: "office", zone: "Europe/Oslo", rows: [{ day: "workdays", spans: ["08:00-18:00"] }] }),
];
const CALENDARS = [{ name: "oslo", rest: ["sat", "sun"] as const, holidays: ["2027-03-26"] }];

const play = (...edits: Edit<FleetDraft>[]) => edits.reduce<History<FleetDraft>>(edited, unedited(DRAFT));
const lead = (minutes: number, step: string | null = null): Edit<FleetDraft> => ({
  kind: "change",
  to: { ...DRAFT, lead: minutes },
  step,
});

test("undo and redo walk back and forth through every change", () => {
  expect(play(lead(5), lead(10), { kind: "undo" }).present.lead).toBe(5);
  expect(play(lead(5), lead(10), { kind: "undo" }, { kind: "undo" }).present).toBe(DRAFT);
  expect(play(lead(5), lead(10), { kind: "undo" }, { kind: "undo" }, { kind: "redo" }).present.lead).toBe(5);
});

test("undo at the beginning and redo at the end change nothing", () => {
  expect(play({ kind: "undo" }).present).toBe(DRAFT);
  const end = play(lead(5));
  expect(edited(end, { kind: "redo" })).toBe(end);
});

test("a change after an undo drops what was undone, and the same draft again is no change", () => {
  expect(play(lead(5), { kind: "undo" }, lead(7)).future).toEqual([]);
  const once = play(lead(5));
  expect(edited(once, { kind: "change", to: once.present, step: null })).toBe(once);
});

test("what is typed into one field until it is left is one step, and a press by itself", () => {
  const typed = play(lead(1, "visit 0"), lead(12, "visit 0"), lead(120, "visit 0"), lead(3, "visit 1"), lead(4), lead(5));
  expect(typed.past.map(({ lead: minutes }) => minutes)).toEqual([0, 120, 3, 4]);
  expect(edited(typed, { kind: "undo" }).present.lead).toBe(4);
  const back = play(lead(1, "visit 0"), { kind: "undo" }, lead(7, "visit 0"));
  expect(edited(back, { kind: "undo" }).present).toBe(DRAFT);
});

test("no more than two hundred steps are kept", () => {
  expect(play(...Array.from({ length: 300 }, (_, i) => lead(i + 1))).past).toHaveLength(200);
});

test("a draft goes by the stored schedule it names, until it has one of its own", () => {
  const named = { ...DRAFT, hours: "office" };
  expect(scheduleOf(named, STORED)).toMatchObject({
    name: "office",
    outside: "off",
    rows: [{ day: "workdays", spans: ["08:00-18:00"] }],
  });
  expect(scheduleOf({ ...DRAFT, hours: "nowhere" }, STORED)).toBeNull();
  const own = withSchedule(named, { name: "mine", zone: "UTC", outside: "off", rows: [] });
  expect(own.hours).toBe("mine");
  expect(scheduleOf(own, STORED)?.name).toBe("mine");
});

test("a schedule's faults come by the path of their field", () => {
  const { compiled, issues } = checkSchedule(
    { name: "s", zone: "Europe/Osloo", outside: "off", rows: [{ day: "mon", spans: ["08:00-09:00", "26:00-27:00"] }] },
    CALENDARS,
  );
  expect(compiled).toBeNull();
  expect([...issues.keys()]).toEqual(["zone", "rows.0.spans.1"]);
});

test("a calendar that does not exist is a fault, and one that does gives its holidays", () => {
  const text = { name: "s", zone: "Europe/Oslo", outside: "off", rows: [] };
  expect(checkSchedule({ ...text, calendar: "bergen" }, CALENDARS).issues.get("calendar")).toContain("bergen");
  const { compiled } = checkSchedule({ ...text, calendar: "oslo" }, CALENDARS);
  expect(compiled?.isHoliday(Date.UTC(2027, 2, 26) / 86_400_000)).toBe(true);
});

test("a draft that does not read is no plan", () => {
  expect(planOf({ ...DRAFT, select: "team =" })).toBeNull();
  expect(planOf(DRAFT)).toMatchObject({ select: "team = x", lead: 0 });
  expect(planOf(DRAFT)?.hours).toBeUndefined();
});

test("the differences from the plan in force are said in words, and none are said where there are none", () => {
  const inForce = fleetSchema.parse({ name: "f", select: "team = x", hours: "office", lead: 10 });
  expect(differences(DRAFT, null)).toEqual(["nothing is in force yet"]);
  expect(differences({ ...DRAFT, hours: "office", lead: 10 }, inForce)).toEqual([]);
  expect(differences({ ...DRAFT, hours: { fromTag: "hours" }, offAction: "hibernate" }, inForce)).toEqual([
    "hours: office → from tag hours",
    "lead: 10 min → 0 min",
    "off means: stop → hibernate",
  ]);
  const told = differences({ ...DRAFT, hours: "office", lead: 10, unhealthy: "tell" }, inForce);
  expect(told).toEqual(["unhealthy members: are replaced → are told of"]);
});

test("each part that differs is said, and never with the same words on both sides", () => {
  const rule = {
    match: "all" as const,
    conditions: [{ metric: "cpu", statistic: "mean" as const, op: "<" as const, threshold: 5, window: 60 }],
    coverage: 0.9,
    warn: 0,
    settle: 0,
    interruptionWithin: 30,
    startMinutes: 0,
    action: "stop" as const,
    applies: "always" as const,
  };
  const pools = [{ name: "a", unitsPerMachine: 1, price: 0.1, hazard: 0.01 }];
  const mix = mixSchema.parse({ wanted: 4, firm: 2, firmPrice: 1, pools, eviction: "drop", order: "even" });
  const plan = { name: "f", select: "team = x", hours: "office", lead: 10, idle: [rule], mix };
  const inForce = fleetSchema.parse(plan);
  const draft = planToDraft(inForce);
  const changes: Partial<FleetDraft>[] = [
    { idle: [{ ...rule, step: 5 }] },
    { idle: [{ ...rule, warn: 10 }] },
    { unhealthy: "restart" },
    { mix: { ...mix, setupMinutes: 9 } },
    { mix: { ...mix, pools: [{ ...mix.pools[0], cap: 2 }] as typeof mix.pools } },
    { enforce: "edges" },
  ];
  for (const change of changes) {
    const [said, ...more] = differences({ ...draft, ...change }, inForce);
    expect(more).toEqual([]);
    const [before, after] = said?.split(" → ") ?? [];
    expect(before?.replace(/^[^:]*: /, ""), JSON.stringify(change)).not.toBe(after);
    const fields = differingFields(draft, { ...draft, ...change }, draft);
    expect(fields).toHaveLength(1);
    expect(fields[0]?.mine).not.toBe(fields[0]?.theirs);
  }
});
