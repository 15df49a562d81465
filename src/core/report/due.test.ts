import { expect, test } from "vitest";
import { dueIssue, isAddress, nextIssue, type ReportTime } from ".";

const OSLO: ReportTime = { zone: "Europe/Oslo", minute: 18 * 60, days: ["mon", "tue", "wed", "thu", "fri"] };
const utc = (...parts: [number, number, number, number, number?]) =>
  Date.UTC(parts[0], parts[1] - 1, parts[2], parts[3], parts[4] ?? 0) / 1000;

test("an issue is due from its local minute on, once, on its days", () => {
  expect(dueIssue(OSLO, { now: utc(2027, 3, 11, 16, 59), lastDay: "2027-03-10" })).toBeNull();
  expect(dueIssue(OSLO, { now: utc(2027, 3, 11, 17), lastDay: "2027-03-10" })).toBe("2027-03-11");
  expect(dueIssue(OSLO, { now: utc(2027, 3, 11, 17, 1), lastDay: "2027-03-11" })).toBeNull();
  expect(dueIssue(OSLO, { now: utc(2027, 3, 13, 20), lastDay: "2027-03-12" }), "a Saturday").toBeNull();
});

test("after the clocks went forward it goes out at the same local hour, an hour earlier in UTC", () => {
  expect(dueIssue(OSLO, { now: utc(2027, 3, 29, 16), lastDay: "2027-03-26" })).toBe("2027-03-29");
  expect(nextIssue(OSLO, utc(2027, 3, 26, 17))).toBe(utc(2027, 3, 29, 16));
});

test("a clock that jumped over days brings the newest issue alone, and a late one still comes after midnight", () => {
  expect(dueIssue(OSLO, { now: utc(2027, 3, 18, 18), lastDay: "2027-03-11" })).toBe("2027-03-18");
  expect(dueIssue(OSLO, { now: utc(2027, 3, 12, 3), lastDay: "2027-03-10" })).toBe("2027-03-11");
});

test("without days nothing is ever due", () => {
  const never = { ...OSLO, days: [] };
  expect(dueIssue(never, { now: utc(2027, 3, 11, 20), lastDay: null })).toBeNull();
  expect(nextIssue(never, utc(2027, 3, 11, 20))).toBeNull();
});

test.each(["a@b.example", "first.last+tag@sub.b.example"])("%s is an address", (text) => expect(isAddress(text)).toBe(true));
test.each(["", "a", "a@", "@b", "a@b, c@d", "A <a@b>", "a@b\nBcc: c@d", `${"x".repeat(70)}@b.example`])("%j is none", (text) =>
  expect(isAddress(text)).toBe(false),
);
