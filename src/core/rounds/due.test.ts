import { expect, test } from "vitest";
import { aFleet, aMachine } from "../../../tests/support/make";
import { asLevel, compileSchedule, scheduleSchema } from "../hours";
import { tryParseInstant } from "../time";
import { dueAt, hoursAt } from "./due";

const at = (text: string) => tryParseInstant(`2027-03-11T${text}:00Z`) as number;
const HOURS = compileSchedule(scheduleSchema.parse({ name: "s", zone: "UTC", rows: [{ day: "daily", spans: ["08:00-18:00"] }] }));

test("what hours say names its row and zone, and says of how many minutes of lead it is ahead only while it is", () => {
  const said = (t: string, leadMinutes = 0) => hoursAt(HOURS, at(t), { leadMinutes, ownSize: asLevel(3) });
  expect(said("12:00")).toEqual({ code: "hours", schedule: "s", zone: "UTC", level: 3, row: "daily", aheadMinutes: 0 });
  expect(said("12:00", 30)).toMatchObject({ level: 3, row: "daily", aheadMinutes: 0 });
  expect(said("07:45", 30)).toMatchObject({ level: 3, row: "daily", aheadMinutes: 30 });
  expect(said("07:45")).toMatchObject({ level: 0, row: null, aheadMinutes: 0 });
});

test("the chain tells every rule asked and why it did not speak, down to leave", () => {
  const fleet = aFleet({ hours: undefined });
  const { chain, ...due } = dueAt(aMachine(), { now: at("12:00"), fleet, overrides: [], hours: { kind: "none" } });
  expect(due).toEqual({ level: null, hours: null, decidedBy: "leave", offAction: null });
  expect(chain.filter(({ applies }) => applies)).toEqual([{ rule: "leave", applies: true, reason: { code: "no rule" } }]);
  expect(chain[0]).toEqual({ rule: "guard", applies: false, reason: { code: "not guarded" } });
  expect(chain.slice(1, -2).map(({ reason }) => reason.code)).toEqual(chain.slice(1, -2).map(() => "no override"));
  expect(chain.at(-2)).toEqual({ rule: "hours", applies: false, reason: { code: "no hours", of: { kind: "none" } } });
});

test("a guard goes before everything: its hours are not even told", () => {
  const now = { code: "hours", schedule: "s", zone: "UTC", level: asLevel(0), row: null, aheadMinutes: 0 } as const;
  const guarded = aMachine({ tags: { "umbrik-guard": "" } });
  const asked = { now: at("12:00"), fleet: aFleet(), overrides: [], hours: { kind: "schedule", now } } as const;
  expect(dueAt(guarded, asked)).toMatchObject({ level: null, hours: null, decidedBy: "guard" });
  expect(dueAt(aMachine(), asked)).toMatchObject({ level: 0, hours: 0, decidedBy: "hours" });
});
