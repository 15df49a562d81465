import { spawn, spawnSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "vitest";
import { within } from "../support/patience";

const folder = mkdtempSync(join(tmpdir(), "umbrik-mix-"));
const file = (name: string, content: unknown) => {
  const path = join(folder, name);
  writeFileSync(path, typeof content === "string" ? content : JSON.stringify(content));
  return path;
};
function umbrik(...args: string[]): { exit: number | null; out: unknown; err: string } {
  const { status, stdout, stderr } = spawnSync("bin/umbrik", args, { encoding: "utf8", timeout: 60_000 });
  return { exit: status, out: stdout === "" ? null : JSON.parse(stdout), err: stderr };
}

const POOL = {
  name: "b-4",
  unitsPerMachine: 1,
  price: 0.03,
  hazard: 0.02,
  reclaimRate: null,
  reclaimShare: null,
  availableHours: null,
  dryHours: null,
  dryHazardFactor: null,
};
const MIX = {
  wanted: 6,
  firm: 2,
  firmPrice: 0.1,
  setupMinutes: 10,
  eviction: "drop",
  diskPrice: null,
  pools: [POOL],
  order: "even",
  refillEveryMinutes: 5,
  provisionMinutes: 5,
  fallbackAfterMinutes: null,
  returnAfterMinutes: null,
  floor: 5,
};
const RUN = ["--trials", "200", "--seed", "3", "--days", "7"];

test("mix simulate gives every figure as the contract shapes it, money as text, the same each time", () => {
  const mix = file("mix.json", MIX);
  const first = umbrik("mix", "simulate", "--mix", mix, ...RUN);
  expect(first).toMatchObject({ exit: 0, err: "" });
  const money = expect.stringMatching(/^-?\d+\.\d{6}$/);
  const number = expect.any(Number);
  const figure = (value: unknown) => ({ mean: value, p5: value, p50: value, p95: value });
  expect(first.out).toEqual({
    cost: figure(money),
    saving: figure(money),
    evictions: figure(number),
    missingUnitHours: figure(number),
    fallbackHours: figure(0),
    longestShortfallHours: figure(number),
    refillMinutes: figure(number),
    atLeastFloor: number,
    alwaysAtLeastFloor: number,
  });
  expect(umbrik("mix", "simulate", "--mix", mix, ...RUN).out).toEqual(first.out);
});

test("without chance the cost is exact, rounded once, and nothing is refilled", () => {
  const mix = file("certain.json", { ...MIX, pools: [{ ...POOL, hazard: null, price: 0.0333333 }] });
  const { out } = umbrik("mix", "simulate", "--mix", mix, "--trials", "5", "--seed", "0", "--days", "28");
  // 672 h x (2 x 0.1 + 4 x 0.0333333).
  expect(out).toMatchObject({
    cost: { mean: "223.999910", p5: "223.999910" },
    saving: { mean: "179.200090" },
    refillMinutes: null,
    atLeastFloor: 1,
    alwaysAtLeastFloor: 1,
  });
});

test("many trials are shared among threads and come to the same as few do", () => {
  const mix = file("busy.json", { ...MIX, wanted: 60, pools: [{ ...POOL, hazard: 0.3 }] });
  const run = (trials: string) => umbrik("mix", "simulate", "--mix", mix, "--trials", trials, "--seed", "1", "--days", "28");
  const many = run("300").out as { evictions: { mean: number } };
  const few = run("40").out as { evictions: { mean: number } };
  expect(Math.abs(many.evictions.mean / few.evictions.mean - 1)).toBeLessThan(0.02);
});

test("mix frontier gives the points as simulate does, and the cheapest with the share", () => {
  const mix = file("frontier.json", MIX);
  const { out, exit } = umbrik("mix", "frontier", "--mix", mix, ...RUN, "--share", "0.99");
  expect(exit).toBe(0);
  type Point = { firm: number; cost: string; atLeastFloor: number };
  const { points, chosen } = out as { points: Point[]; chosen: { firm: number } };
  expect(points.map(({ firm }) => firm)).toEqual([0, 1, 2, 3, 4, 5, 6]);
  expect(points.at(-1)).toEqual({
    firm: 6,
    pools: [],
    order: null,
    cost: "100.800000",
    missingUnitHours: 0,
    atLeastFloor: 1,
    onFrontier: true,
  });
  const simulated = umbrik("mix", "simulate", "--mix", mix, ...RUN).out as { cost: { mean: string } };
  expect(points[2]?.cost).toBe(simulated.cost.mean);
  const enough = points.filter(({ atLeastFloor }) => atLeastFloor >= 0.99).sort((a, b) => Number(a.cost) - Number(b.cost));
  expect(chosen.firm).toBe(enough[0]?.firm);
  expect((umbrik("mix", "frontier", "--mix", mix, ...RUN).out as { chosen: unknown }).chosen).toBeNull();
});

test("choices narrow the frontier, and what the mix has not is refused at its place", () => {
  const mix = file("choices-mix.json", MIX);
  const choices = (content: unknown) =>
    umbrik("mix", "frontier", "--mix", mix, ...RUN, "--choices", file("choices.json", content));
  const { out } = choices({ firm: [6, 0], orders: ["cheapest", "blend"] });
  expect((out as { points: { order: string | null }[] }).points.map(({ order }) => order)).toEqual([null, "cheapest", "blend"]);
  expect(choices({ poolSets: [["b-5"]] })).toMatchObject({ exit: 1, out: null });
  expect(choices({ poolSets: [["b-5"]] }).err).toContain('no pool is named "b-5"; there are b-4');
});

test("mix learn gives the posterior of each class", () => {
  const counts = {
    classes: [{ name: "graphics", prior: { shape: 2, rate: 400 }, evictions: 41, machineHours: 12_300 }],
  };
  const { out } = umbrik("mix", "learn", "--counts", file("counts.json", counts));
  const [one] = (out as { classes: Record<string, number>[] }).classes;
  expect(one).toMatchObject({ name: "graphics", shape: 43, rate: 12_700, mean: 43 / 12_700 });
  // Half of chi-squared with 86 degrees of freedom: 65.6233 and 108.6479.
  expect((one?.p5 as number) * 12_700).toBeCloseTo(65.6233 / 2, 2);
  expect((one?.p95 as number) * 12_700).toBeCloseTo(108.6479 / 2, 2);
});

test.each([
  ["a negative rate", { pools: [{ ...POOL, hazard: -0.1 }] }, "hazard"],
  ["zero pools", { pools: [] }, "4 of 6 units are not firm: at least one pool is needed for them"],
  ["firm above what is wanted", { firm: 7 }, "7 firm units are above the 6 that are ever wanted"],
  ["a cap of 0", { pools: [{ ...POOL, cap: 0 }] }, "a cap is above 0"],
  ["a price series with a hole", { pools: [{ ...POOL, price: undefined, priceSeries: [0.1, null, 0.2] }] }, "priceSeries[1]"],
  ["a pool without a price", { pools: [{ ...POOL, price: undefined }] }, "a pool has a price or a priceSeries"],
  ["two pools of one name", { pools: [POOL, POOL] }, '"b-4" is the name of another pool'],
  [
    "steps that overlap",
    {
      wanted: [
        { from: 0, to: 5, units: 6 },
        { from: 4, to: 8, units: 2 },
      ],
    },
    "4 lies in the step from 0 to 5",
  ],
  ["a key nobody knows", { refillEvery: 5 }, 'the nearest known key is "refillEveryMinutes"'],
])("%s is refused with the reason at its place", (_, more, said) => {
  const answer = umbrik("mix", "simulate", "--mix", file("bad.json", { ...MIX, ...more }), ...RUN);
  expect(answer).toMatchObject({ exit: 1, out: null });
  expect(answer.err).toContain(said);
  expect(answer.err).toMatch(/bad\.json:\d+:\d+: /);
});

test.each([
  ["trials", "1000000000", "at most 1000000"],
  ["trials", "0", "expected a whole number from 1"],
  ["days", "-1", "expected a number above 0"],
  ["seed", "x", "expected a whole number"],
])("--%s %s is wrong use", (name, value, said) => {
  const args = RUN.map((word, i) => (RUN[i - 1] === `--${name}` ? value : word));
  const answer = umbrik("mix", "simulate", "--mix", file("fine.json", MIX), ...args);
  expect(answer).toMatchObject({ exit: 2, out: null });
  expect(answer.err).toContain(said);
});

test("a long run ends at once when it is interrupted", async () => {
  const mix = file("long.json", { ...MIX, wanted: 200, pools: [{ ...POOL, hazard: 1 }] });
  const args = ["mix", "simulate", "--mix", mix, "--trials", "100000", "--seed", "1", "--days", "28"];
  const child = spawn("bin/umbrik", args, { stdio: "ignore" });
  await new Promise((resolve) => setTimeout(resolve, 3_000));
  const asked = performance.now();
  child.kill("SIGINT");
  await new Promise((resolve) => child.once("exit", resolve));
  expect(performance.now() - asked).toBeLessThan(within(3));
});
