import { expect, test } from "vitest";
import { countsSchema, gammaQuantile, posterior } from "./posterior";

test("the posterior is the prior with what was seen added, its mean worked by hand", () => {
  const { shape, rate, mean } = posterior({ prior: { shape: 2, rate: 400 }, evictions: 41, machineHours: 12_300 });
  expect({ shape, rate, mean }).toEqual({ shape: 43, rate: 12_700, mean: 43 / 12_700 });
});

test.each([
  // Of shape 1 it is exponential: -ln(1 - p).
  [1, 0.05, -Math.log(0.95)],
  [1, 0.95, -Math.log(0.05)],
  // Of shape 1/2 half the square of a normal: z(0.975)^2 / 2.
  [0.5, 0.95, 1.959963984540054 ** 2 / 2],
  // Half of chi-squared with 10 and with 2,000 degrees of freedom.
  [5, 0.05, 3.940299136 / 2],
  [5, 0.95, 18.30703805 / 2],
  [1000, 0.05, 1897.1 / 2],
] as const)("the quantile of shape %s at %s", (shape, p, expected) => {
  expect(Math.abs(gammaQuantile(shape, p) / expected - 1)).toBeLessThan(shape === 1000 ? 1e-4 : 1e-8);
});

test.each([0.1, 0.7, 3, 99.5, 100.5, 5_000, 1e6])("the share below the quantile is the share asked for, at shape %s", (shape) => {
  for (const p of [0.05, 0.5, 0.95]) {
    const x = gammaQuantile(shape, p);
    if (x === 0) continue;
    // Simpson's rule over the logarithm of the variable, from where nothing is below.
    const [from, to, n] = [Math.log(x) - 60 / shape - 60 / Math.sqrt(shape), Math.log(x), 40_000];
    const peak = Math.log(shape);
    const density = (u: number) => Math.exp(shape * (u - peak) - (Math.exp(u) - shape));
    const area = (a: number, b: number) => {
      const h = (b - a) / n;
      let sum = density(a) + density(b);
      for (let i = 1; i < n; i++) sum += density(a + i * h) * (i % 2 ? 4 : 2);
      return (sum * h) / 3;
    };
    const above = area(to, Math.max(to, peak) + 60 / Math.sqrt(shape) + (shape < 1 ? 8 : 0));
    const below = area(from, to);
    expect(Math.abs(below / (below + above) / p - 1)).toBeLessThan(1e-5);
  }
});

test("of a tiny shape the quantile is what the first term of the series says, down to where numbers end", () => {
  // Gamma(1.01) = 0.99432585.
  expect(gammaQuantile(0.01, 0.5) / (0.5 * 0.9943258512) ** 100).toBeCloseTo(1, 6);
  expect(gammaQuantile(1e-4, 0.05)).toBe(0);
});

test("counts that cannot be are refused at their place", () => {
  const issues = (given: unknown) => countsSchema.safeParse(given).error?.issues.map(({ path }) => path.join("."));
  const one = { name: "small", prior: { shape: 1, rate: 100 }, evictions: 3, machineHours: 10 };
  expect(issues({ classes: [{ ...one, evictions: -1 }] })).toEqual(["classes.0.evictions"]);
  expect(issues({ classes: [{ ...one, prior: { shape: 0, rate: 1 } }] })).toEqual(["classes.0.prior.shape"]);
  expect(issues({ classes: [one, one] })).toEqual(["classes.1.name"]);
});
