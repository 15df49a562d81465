import { expect, test } from "vitest";
import { draw } from "./draws";
import { meanHours, meanRate, meanShare } from "./known";
import { mixSchema } from "./mix";
import { asObserved, asSaid, dryRuns, HAZARD_PRIOR, poolReader, ratesObserved } from "./observed";
import { type SpotPast, sizesSeen } from "./seen";
import { type PoolAnswer, type PoolPast, SPELLS_PRIOR, spellsLearned } from "./spells";
import { type Observed, WAVES_PRIOR } from "./waves";

const PRIOR = { shape: 1, rate: 100 };
const HOUR = 3_600;

test("evictions one by one are the machines' own; several at once are events, with their share", () => {
  const alone = Array.from({ length: 12 }, (_, i) => ({ at: i * 7, count: 1, held: 5 }));
  const [machineHours, hoursHeld] = [1_000, new Map([[5, 200]])];
  const quiet = ratesObserved({ gone: alone, machineHours, hoursHeld }, PRIOR);
  // Hardly any of them is a wave that took one: five at hand, one would often take two.
  expect(quiet.hazard.shape).toBeGreaterThan(11);
  expect(quiet.hazard.shape).toBeLessThanOrEqual(13);
  expect(quiet.hazard.rate).toBe(1_100);
  const all = Array.from({ length: 6 }, (_, i) => ({ at: 3 + i, count: 5, held: 5 }));
  const { hazard, waves } = ratesObserved({ gone: [...alone, ...all], machineHours, hoursHeld }, PRIOR);
  // All of them at once: the share is nearly all, and none of the others is an event that took one alone.
  expect(meanShare(waves.share)).toBeGreaterThan(0.85);
  expect(hazard.shape).toBeCloseTo(13, 1);
  // Six in two hundred hours, and what was thought before.
  expect(meanRate(waves.rate)).toBeCloseTo(6.5 / 300, 2);
});

test("what was drawn from known rates is found again, those events counted that took one machine or none", () => {
  const [own, events, share, held, hours] = [0.01, 0.05, 0.35, 6, 40_000];
  const random = (n: number) => draw(7, 11, n);
  const gone: Observed["gone"][number][] = [];
  let draws = 0;
  for (let h = 0; h < hours; h++) {
    for (let m = 0; m < held; m++) if (random(++draws) < own) gone.push({ at: h + m / 100, count: 1, held });
    if (random(++draws) >= events) continue;
    let count = 0;
    for (let m = 0; m < held; m++) if (random(++draws) < share) count++;
    if (count > 0) gone.push({ at: h + 0.5, count, held });
  }
  const { hazard, waves } = ratesObserved({ gone, machineHours: hours * held, hoursHeld: new Map([[held, hours]]) }, PRIOR);
  expect(meanShare(waves.share)).toBeCloseTo(share, 1);
  // What waves take in all is what is kept exactly.
  expect(Math.abs((meanRate(waves.rate) * meanShare(waves.share)) / (events * share) - 1)).toBeLessThan(0.1);
  expect(Math.abs(hazard.mean / own - 1)).toBeLessThan(0.05);
});

test("of nothing seen there are the priors: no refusal seen yet is not never", () => {
  const { rate, waves, spells } = poolReader(new Map())({ size: "a", zone: "b" });
  expect(rate).toMatchObject(HAZARD_PRIOR);
  expect(meanRate(waves.rate) * meanShare(waves.share)).toBeCloseTo(meanRate(WAVES_PRIOR.rate) * 0.4, 3);
  expect(spells).toEqual({ ...SPELLS_PRIOR, count: 0 });
});

/** A pool whose spells, evictions and answers are drawn; asked every so many hours, and after each eviction until it has one. */
function drawnPast(given: {
  available: number;
  dry: number;
  factor: number;
  hazard: number;
  every: number;
  hours: number;
}): PoolPast {
  const { available, dry, factor, hazard, every, hours } = given;
  const held = 4;
  const [step, answers, evictions]: [number, PoolAnswer[], number[]] = [1 / 12, [], []];
  let [isDry, asks, n] = [false, false, 0];
  const chance = (rate: number) => draw(3, 5, n++) < 1 - Math.exp(-rate * step);
  for (let i = 0; i * step < hours; i++) {
    const at = i * step;
    if (chance(1 / (isDry ? dry : available))) isDry = !isDry;
    if (chance(held * hazard * (isDry ? factor : 1))) {
      evictions.push(at);
      asks = true;
    }
    if (asks || i % Math.round(every / step) === 0) {
      answers.push({ at, isRefused: isDry });
      asks = isDry;
    }
  }
  return { held: [{ at: 0, level: held }], evictions, answers, now: hours };
}

test("spells that were drawn are found again, though it is mostly an eviction that has somebody ask", () => {
  const drawn = { available: 30, dry: 4, factor: 3, hazard: 0.02, every: 12, hours: 8_000 };
  const past = drawnPast(drawn);
  const seen = past.evictions.length / (4 * drawn.hours);
  const { available, dry, factor, dryShare } = spellsLearned({ ...past, answers: past.answers.slice(-3_500) }, seen);
  expect(Math.abs(meanHours(dry) / drawn.dry - 1)).toBeLessThan(0.3);
  expect(Math.abs(meanHours(available) / drawn.available - 1)).toBeLessThan(0.3);
  expect(Math.abs(meanRate(factor) / drawn.factor - 1)).toBeLessThan(0.35);
  expect(dryShare).toBeCloseTo(4 / 34, 1);
  // Counted without a thought for who asks: of so many answers far more were refusals than of so many hours were dry.
  expect(past.answers.filter(({ isRefused }) => isRefused).length / past.answers.length).toBeGreaterThan(0.3);
});

test("the more was answered the less is unsure, and answers alike move what was thought only a little at first", () => {
  const spread = (past: PoolPast) => 1 / Math.sqrt(spellsLearned(past, 0.02).available.shape);
  const drawn = { available: 30, dry: 4, factor: 3, hazard: 0.02, every: 6 };
  expect(spread(drawnPast({ ...drawn, hours: 1_500 }))).toBeLessThan(spread(drawnPast({ ...drawn, hours: 150 })));
  const yes: PoolPast = { held: [], evictions: [], answers: [{ at: 1, isRefused: false }], now: 2 };
  expect(Math.abs(meanRate(spellsLearned(yes, 0.01).available) / meanRate(SPELLS_PRIOR.available) - 1)).toBeLessThan(0.3);
});

test("runs of refusals are counted in order of time", () => {
  const answers = [1, 5, 10, 13, 13.5, 50].map((at): PoolAnswer => ({ at, isRefused: [10, 13, 50].includes(at) }));
  expect(dryRuns(answers)).toBe(2);
  expect(dryRuns([...answers].reverse())).toBe(2);
  expect(dryRuns([])).toBe(0);
});

test("what was seen is added up by size, and what went at one instant in a zone is one event of so many", () => {
  const [a, b] = [
    { size: "ketch-8", zone: "a" },
    { size: "ketch-8", zone: "b" },
  ];
  const past: SpotPast = {
    turns: [
      { ...a, at: 0, by: 3 },
      { ...b, at: 0, by: 1 },
      { ...a, at: 10 * HOUR, by: -2 },
      { ...a, at: 20 * HOUR, by: -1 },
      { ...b, at: 10 * HOUR, by: -1 },
    ],
    gone: [
      { ...a, at: 10 * HOUR },
      { ...a, at: 10 * HOUR },
      { ...b, at: 10 * HOUR },
    ],
    answers: [{ ...a, at: 11 * HOUR, isRefused: true }],
  };
  const seen = sizesSeen(past, 20 * HOUR).get("ketch-8");
  expect(seen?.gone).toEqual([
    { at: 10, count: 2, held: 3 },
    { at: 10, count: 1, held: 1 },
  ]);
  expect(seen?.machineHours).toBe(50);
  expect([...(seen?.hoursHeld ?? [])]).toEqual([
    [3, 10],
    [1, 20],
  ]);
  expect(seen?.mostAtOnce.get("a")).toBe(3);
  expect(seen?.pasts.get("a")).toMatchObject({ evictions: [], answers: [{ at: 11, isRefused: true }], now: 20 });
  expect(seen?.pasts.has("b")).toBe(false);
});

test("a pool takes what is known where nobody said a number, and says it no more when a person takes it", () => {
  const [pool] = mixSchema.parse({
    wanted: 1,
    firm: 0,
    firmPrice: 1,
    eviction: "drop",
    order: "even",
    pools: [{ name: "ketch-8 a", price: 0.1, hazard: PRIOR, dryHours: 9, reclaimRate: 0 }],
  }).pools;
  if (!pool) throw new Error("no pool");
  const known = poolReader(new Map())({ size: "ketch-8", zone: "a" });
  const laid = asObserved(pool, known);
  expect(laid).toMatchObject({
    dryHours: 9,
    reclaimRate: 0,
    availableHours: known.spells.available,
    reclaimShare: known.waves.share,
  });
  // The rate of all hours is told; that of the hours in which machines are to be had is a little lower.
  expect(meanRate(laid.hazard ?? 0)).toBeLessThan(known.rate.mean);
  expect({ ...asSaid(laid), hazard: null }).toEqual({ ...pool, hazard: null });
  expect(asObserved({ ...pool, hazard: 0.5 }, known).hazard).toBe(0.5);
});
