import { z } from "zod";
import { nameSchema } from "../hours/schedule";

const above0 = z.number().positive();

/** What was seen of some size classes, and what was thought before (docs/model.md, Learning the rates). */
export const countsSchema = z
  .strictObject({
    classes: z.array(
      z.strictObject({
        name: nameSchema,
        /** Shape, and rate in machine-hours. */
        prior: z.strictObject({ shape: above0, rate: above0 }),
        evictions: z.number().int().min(0),
        machineHours: z.number().min(0),
      }),
    ),
  })
  .superRefine(({ classes }, context) => {
    const seen = new Set<string>();
    classes.forEach(({ name }, i) => {
      if (seen.has(name))
        context.addIssue({ code: "custom", path: ["classes", i, "name"], message: `"${name}" is the name of another class` });
      seen.add(name);
    });
  });

export type Counts = z.infer<typeof countsSchema>["classes"][number];

/** A rate of evictions per machine-hour as it is known: a Gamma, its mean and its 5th and 95th percentile. */
export type Rate = Readonly<{ shape: number; rate: number; mean: number; p5: number; p95: number }>;

/** What is known of a rate after so many evictions in so many machine-hours: Gamma with a Poisson count. */
export function posterior({ prior, evictions, machineHours }: Omit<Counts, "name">): Rate {
  const shape = prior.shape + evictions;
  const rate = prior.rate + machineHours;
  return {
    shape,
    rate,
    mean: shape / rate,
    p5: gammaQuantile(shape, 0.05) / rate,
    p95: gammaQuantile(shape, 0.95) / rate,
  };
}

const HALVINGS = 200;

/** The value under which a Gamma of that shape, with rate 1, lies with chance p: by halving, to the last digits. */
export function gammaQuantile(shape: number, p: number): number {
  // In logarithms, since of a small shape the 5th percentile is far below what a number can be.
  let low = (Math.log(p) + lnGamma(shape + 1)) / shape - 1;
  let high = Math.log(shape + 40 * Math.sqrt(shape) + 40);
  for (let i = 0; i < HALVINGS && high - low > 1e-14 * Math.max(1, Math.abs(low)); i++) {
    const middle = (low + high) / 2;
    if (gammaShare(shape, middle) < p) low = middle;
    else high = middle;
  }
  return Math.exp((low + high) / 2);
}

/** The share of a Gamma of that shape, with rate 1, below exp(lnX): the regularised lower incomplete gamma function. */
function gammaShare(shape: number, lnX: number): number {
  const x = Math.exp(lnX);
  const lead = shape * lnX - x - lnGamma(shape);
  return x < shape + 1 ? Math.exp(lead) * series(shape, x) : 1 - Math.exp(lead) * fraction(shape, x);
}

const TERMS_MAX = 1_000_000;

/** Sum of x^n / (a (a+1) … (a+n)). */
function series(a: number, x: number): number {
  let term = 1 / a;
  let sum = term;
  for (let n = 1; n < TERMS_MAX && term > sum * 1e-17; n++) {
    term *= x / (a + n);
    sum += term;
  }
  return sum;
}

/** The continued fraction of the upper tail, by Lentz's method. */
function fraction(a: number, x: number): number {
  const tiny = 1e-300;
  let b = x + 1 - a;
  let c = 1 / tiny;
  let d = 1 / (Math.abs(b) < tiny ? tiny : b);
  let h = d;
  for (let i = 1; i < TERMS_MAX; i++) {
    const an = -i * (i - a);
    b += 2;
    d = an * d + b;
    d = 1 / (Math.abs(d) < tiny ? tiny : d);
    c = b + an / c;
    if (Math.abs(c) < tiny) c = tiny;
    const step = d * c;
    h *= step;
    if (Math.abs(step - 1) < 1e-16) break;
  }
  return h;
}

const LANCZOS = [
  0.99999999999980993, 676.5203681218851, -1259.1392167224028, 771.32342877765313, -176.61502916214059, 12.507343278686905,
  -0.13857109526572012, 9.9843695780195716e-6, 1.5056327351493116e-7,
] as const;

/** Logarithm of the gamma function above 0, by Lanczos; of large values by Stirling's series, which is closer there. */
function lnGamma(x: number): number {
  if (x > 100) {
    const i = 1 / (x * x);
    return (x - 0.5) * Math.log(x) - x + Math.log(2 * Math.PI) / 2 + (1 / 12 - i * (1 / 360 - i * (1 / 1260 - i / 1680))) / x;
  }
  if (x < 0.5) return Math.log(Math.PI / Math.sin(Math.PI * x)) - lnGamma(1 - x);
  const z = x - 1;
  let sum: number = LANCZOS[0];
  for (let i = 1; i < LANCZOS.length; i++) sum += (LANCZOS[i] as number) / (z + i);
  const t = z + 7.5;
  return Math.log(2 * Math.PI) / 2 + (z + 0.5) * Math.log(t) - t + Math.log(sum);
}
