import { expect, test } from "vitest";
import { asLevel } from "../hours";
import { tryParseInstant } from "../time";
import { chainWords, closedWords, decidingReason, type Reason, reasonWords, whyWords } from ".";

const AT = tryParseInstant("2027-03-11T17:00:00Z") as number;
const HOURS: Reason = { code: "hours", schedule: "s", zone: "Europe/Oslo", level: asLevel(0), row: "workdays", aheadMinutes: 0 };

test.each<[Reason, string]>([
  [HOURS, "s (Europe/Oslo) says off, row workdays"],
  [{ ...HOURS, level: asLevel(6), row: null, aheadMinutes: 15 }, "s (Europe/Oslo) says level 6, outside its spans, 15 min ahead"],
  [{ code: "no hours", of: { kind: "unknown", text: "sx", nearest: "s" } }, 'no schedule is named "sx"; the nearest is "s"'],
  [{ code: "no hours", of: { kind: "untagged", key: "hours" } }, "the resource has no tag hours to take hours from"],
  [
    { code: "no hours", of: { kind: "unreadable", text: "7-9", message: "character 2: x", nearest: null } },
    '"7-9" does not read, character 2: x',
  ],
  [
    { code: "override", kind: "hold", level: asLevel(1), from: AT - 60, to: AT, reason: "release" },
    "on until 2027-03-11T17:00:00Z: release",
  ],
  [{ code: "no override", kind: "trip" }, "no idle alarm has tripped"],
  [
    { code: "before the block ends", because: { code: "no fleet" }, at: AT },
    "no fleet in force matches from 2027-03-11T17:00:00Z; the block it has paid for ends before a later stop would be done",
  ],
  [
    { code: "no hibernation", because: { code: "memory", gib: 64, gibMax: 32 } },
    "stop instead of hibernate: 64 GiB of memory, and at most 32 GiB can be kept there",
  ],
  [{ code: "no hibernation", because: { code: "os", os: null } }, "stop instead of hibernate: not for an unknown OS there"],
  [{ code: "members up", up: 3, wanted: 8 }, "3 of 8 are up by its mix: what it had of itself goes"],
])("a reason is said in one way (%#)", (reason, words) => {
  expect(reasonWords(reason)).toBe(words);
});

test("several reasons make one sentence, and a chain says what each rule found", () => {
  expect(whyWords([{ code: "guarded" }, { code: "is", state: "running" }])).toBe("a guard tag forbids any action; it is running");
  const chain = [
    { rule: "guard", applies: false, reason: { code: "not guarded" } },
    { rule: "leave", applies: true, reason: { code: "no rule" } },
  ] as const;
  expect(chainWords(chain)).toEqual([
    { rule: "guard", applies: false, why: "no guard tag" },
    { rule: "leave", applies: true, why: "no rule speaks" },
  ]);
  expect(decidingReason({ chain, decidedBy: "leave" })).toEqual({ code: "no rule" });
});

test("a closed account says whose word it waits for", () => {
  const doubted = {
    code: "doubted",
    lack: { of: 20, missing: 9, untagged: 2, guardsLost: 1 },
    needsPerson: false,
  } as const;
  expect(closedWords(doubted)).toBe("its listing is doubted: it lacks 9 of 20, 1 of them their guard; it is read again");
  expect(closedWords({ ...doubted, needsPerson: true })).toContain("a person is asked whether that is true");
  expect(closedWords({ code: "paused", person: "eda", reason: "move", isHere: true })).toBe(
    "rounds are paused here by eda: move",
  );
});
