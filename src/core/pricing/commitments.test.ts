import { expect, test } from "vitest";
import { aMachine } from "../../../tests/support/make";
import { asLevel } from "../hours";
import { type Commitment, countsAt, covers, feePerSecond } from ".";

const COMMITMENT: Commitment = {
  id: 1,
  provider: "p1",
  account: "",
  region: "fjord-1",
  size: "sloop-4",
  units: 3,
  feePerHour: "1.5",
  fromDay: "2027-01-01",
  toDay: "2027-03-31",
};
const at = (...parts: [number, number, number, number?]) => Date.UTC(parts[0], parts[1] - 1, parts[2], parts[3] ?? 0) / 1000;

test("it counts from the first second of its first day to the last of its last, UTC", () => {
  expect(countsAt(COMMITMENT, at(2026, 12, 31, 23))).toBe(false);
  expect(countsAt(COMMITMENT, at(2027, 1, 1))).toBe(true);
  expect(countsAt(COMMITMENT, at(2027, 4, 1) - 1)).toBe(true);
  expect(countsAt(COMMITMENT, at(2027, 4, 1))).toBe(false);
});

test("it covers firm machines and groups of its size, region and account, and nothing else", () => {
  expect(covers(COMMITMENT, aMachine())).toBe(true);
  expect(covers(COMMITMENT, aMachine({ kind: "group", level: asLevel(4), levelMax: 8 }))).toBe(true);
  expect(covers(COMMITMENT, aMachine({ kind: "service" }))).toBe(false);
  expect(covers(COMMITMENT, aMachine({ provider: "p2" }))).toBe(false);
  expect(covers({ ...COMMITMENT, account: "a1" }, aMachine())).toBe(true);
  expect(covers({ ...COMMITMENT, account: "other" }, aMachine())).toBe(false);
  expect(covers({ ...COMMITMENT, size: "ketch-8" }, aMachine())).toBe(false);
  expect(covers({ ...COMMITMENT, region: "tasman-2" }, aMachine())).toBe(false);
  const spot = { kind: "machine", fields: { ...aMachine().fields, purchase: "spot" } };
  expect(covers(COMMITMENT, spot)).toBe(false);
});

test("its fee is exact by the second, and one that was never checked is our own mistake", () => {
  expect(feePerSecond(COMMITMENT) * 3600n).toBe(15n * 10n ** 8n * 730n * 3600n);
  expect(() => feePerSecond({ ...COMMITMENT, feePerHour: "1,5" })).toThrow("checked when it is read");
  expect(() => countsAt({ ...COMMITMENT, fromDay: "soon" }, 0)).toThrow("checked when it is read");
});
