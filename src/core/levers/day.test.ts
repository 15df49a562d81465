import fc from "fast-check";
import { expect, test } from "vitest";
import { aFleet } from "../../../tests/support/make";
import type { Amount } from "../pricing";
import { GAP_CAUSES, type Gap } from "../realised";
import { amountOfMoney, LEVER_KINDS, LEVERS, leversPulled, leverWords, promisedBy, savedByLever, spreadOfDays } from ".";

const gapOf = (more: Partial<Record<(typeof GAP_CAUSES)[number], bigint>>): Gap =>
  Object.fromEntries(GAP_CAUSES.map((cause) => [cause, more[cause] ?? 0n])) as unknown as Gap;

test("what levers saved adds up to what was saved wherever hours are pulled, and each row is its cause's", () => {
  fc.assert(
    fc.property(
      fc.subarray([...LEVER_KINDS], { minLength: 1 }),
      fc.bigInt({ min: -1000n, max: 1000n }),
      fc.bigInt({ min: -500n, max: 500n }),
      fc.bigInt({ min: -500n, max: 500n }),
      (pulled, saved, idle, mix) => {
        const rows = savedByLever({ pulled, saved, gap: gapOf({ "idle alarms": idle, "the mix": mix }), forecasts: {} });
        expect(rows.map(({ lever }) => lever)).toEqual(pulled);
        const sum = rows.reduce((total, row) => total + row.saved, 0n);
        if (pulled.includes("hours") || pulled.length === 1) expect(sum).toBe(saved);
        else expect(rows.map((row) => row.saved)).toEqual([-idle, -mix]);
      },
    ),
  );
});

test("a forecast goes with its lever, and one that is not known is none", () => {
  const spread = { p5: 1n as Amount, p50: 2n as Amount, p95: 3n as Amount };
  const rows = savedByLever({ pulled: ["hours", "idle"], saved: 9n, gap: gapOf({}), forecasts: { idle: spread } });
  expect(rows.map(({ forecast }) => forecast)).toEqual([null, spread]);
});

test("what was promised goes by cause: hours have none, and what was not foretold is none", () => {
  const spread = { p5: 1n as Amount, p50: 2n as Amount, p95: 3n as Amount };
  const rows = savedByLever({
    pulled: ["hours", "idle", "mix"],
    saved: 9n,
    gap: gapOf({}),
    forecasts: { hours: spread, mix: spread },
  });
  expect([...promisedBy(rows)]).toEqual([["the mix", 2n]]);
});

test("each kind of lever is one object, in the order in which they are laid", () => {
  expect(LEVERS.map(({ kind }) => kind)).toEqual([...LEVER_KINDS]);
  expect(leversPulled(aFleet())).toEqual(["hours"]);
  const idle = [{ match: "all", conditions: [{ metric: "cpu", statistic: "mean", op: "<", threshold: 5, window: 60 }] }];
  expect(leversPulled(aFleet({ hours: undefined, idle }))).toEqual(["idle"]);
  expect(leverWords(["mix", "hours"])).toBe("hours, mix");
});

test("the spread of a day is by nearest rank of the days before, and money as a number is exact to a millionth", () => {
  expect(spreadOfDays([])).toBeNull();
  expect(spreadOfDays([7n])).toEqual({ p5: 7n, p50: 7n, p95: 7n });
  expect(spreadOfDays([4n, 1n, 3n, 2n])).toEqual({ p5: 1n, p50: 2n, p95: 4n });
  expect(amountOfMoney(1.5)).toBe((3n * 1_000_000_000n * 3600n * 730n) / 2n);
});
