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

test("the spread of a day lies about the mean of its weekday, by what days alike lay off theirs", () => {
  expect(spreadOfDays([], 0)).toBeNull();
  expect(spreadOfDays([{ weekday: 1, saved: 7n }], 0)).toBeNull();
  expect(spreadOfDays([{ weekday: 0, saved: 7n }], 0)).toEqual({ p5: 7n, p50: 7n, p95: 7n });
  // Mondays and Tuesdays save about as much, Sundays another sum: those are as they are.
  const days = [90n, 110n, 95n, 105n].flatMap((saved) => [
    { weekday: 0, saved },
    { weekday: 1, saved: saved * 2n - 100n },
    { weekday: 6, saved: saved * 10n },
  ]);
  const spread = spreadOfDays(days, 0);
  expect(spread?.p50).toBe(100n);
  // The farthest of eight lies twenty off, and four weeks say the mean no better than by a third more.
  expect(spread).toEqual({ p5: 74n, p50: 100n, p95: 126n });
});

test("of days drawn alike nine of ten lie within what those of four weeks before foretell", () => {
  let [within, all] = [0, 0];
  const draw = (n: number) => {
    // Near to a normal: twelve of a plain generator.
    let [sum, state] = [0, (n * 48_271 + 7) % 2_147_483_647];
    for (let i = 0; i < 12; i++) {
      state = (state * 48_271) % 2_147_483_647;
      sum += state / 2_147_483_647;
    }
    return sum - 6;
  };
  for (let trial = 0; trial < 400; trial++) {
    const day = (i: number) => BigInt(Math.round(10_000 + 1_000 * draw(1 + trial * 40 + i)));
    const days = Array.from({ length: 28 }, (_, i) => ({ weekday: i % 7, saved: i % 7 > 4 ? 0n : day(i) }));
    const spread = spreadOfDays(days, 2);
    const came = day(30);
    all++;
    if (spread && came >= spread.p5 && came <= spread.p95) within++;
  }
  expect(within / all).toBeGreaterThan(0.85);
  expect(within / all).toBeLessThan(0.97);
});

test("money as a number is exact to a millionth, and ready machines are told apart from hours in a day", () => {
  expect(amountOfMoney(1.5)).toBe((3n * 1_000_000_000n * 3600n * 730n) / 2n);
  const spread = { p5: -9n as Amount, p50: -6n as Amount, p95: -3n as Amount };
  const gap = gapOf({ "ready machines": 8n });
  const rows = savedByLever({ pulled: ["hours", "ready"], saved: 20n, gap, forecasts: { ready: spread } });
  expect(rows).toEqual([
    { lever: "hours", saved: 28n, forecast: null },
    { lever: "ready", saved: -8n, forecast: spread },
  ]);
  expect([...promisedBy(rows)]).toEqual([["ready machines", -6n]]);
});
