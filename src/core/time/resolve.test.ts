import fc from "fast-check";
import { Temporal } from "temporal-polyfill";
import { expect, test } from "vitest";
import { clockChanges, dayNumber, formatDate, resolveLocal } from ".";

const ZONES = [
  "Europe/Oslo",
  "America/Santiago",
  "Australia/Lord_Howe",
  "Asia/Kathmandu",
  "Antarctica/Troll",
  "Pacific/Auckland",
  "UTC",
];

/** RFC 5545's reading is what Temporal calls compatible. */
function slowly(zone: string, day: number, second: number): number {
  const date = Temporal.PlainDate.from(formatDate(day)).toPlainDateTime().add({ seconds: second });
  return date.toZonedDateTime(zone, { disambiguation: "compatible" }).epochMilliseconds / 1000;
}

test("a wall-clock time becomes the instant that calendars mean, in every zone and around every change", () => {
  const day = fc.integer({ min: dayNumber("2026-12-01"), max: dayNumber("2028-02-01") });
  fc.assert(
    fc.property(fc.constantFrom(...ZONES), day, fc.integer({ min: 0, max: 86_399 }), (zone, date, second) => {
      expect(resolveLocal(zone, date, second)).toBe(slowly(zone, date, second));
    }),
    { numRuns: 500, seed: 72 },
  );
  for (const zone of ZONES) {
    for (const { at } of clockChanges(zone, Date.UTC(2027, 0, 1) / 1000, Date.UTC(2028, 0, 1) / 1000)) {
      const date = Math.floor(at / 86_400);
      for (let second = -86_400; second < 2 * 86_400; second += 900) {
        const [of, rest] = [date + Math.floor(second / 86_400), ((second % 86_400) + 86_400) % 86_400];
        expect(resolveLocal(zone, of, rest), `${zone} ${formatDate(of)} ${rest}`).toBe(slowly(zone, of, rest));
      }
    }
  }
});
