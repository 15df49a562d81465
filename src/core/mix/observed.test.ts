import { expect, test } from "vitest";
import { draw } from "./draws";
import { type Observed, type PoolAnswer, ratesObserved, spellsObserved } from "./observed";

const PRIOR = { shape: 1, rate: 100 };

test("evictions one by one are the machines' own; several at once are events, with their share", () => {
  const alone = Array.from({ length: 12 }, (_, i) => ({ at: i * 7, count: 1, held: 5 }));
  expect(ratesObserved({ gone: alone, machineHours: 1_000, sharedHours: 200 }, PRIOR)).toMatchObject({
    hazard: { shape: 13, rate: 1_100 },
    reclaim: null,
  });
  const { hazard, reclaim } = ratesObserved(
    { gone: [...alone, { at: 3, count: 5, held: 5 }], machineHours: 1_000, sharedHours: 200 },
    PRIOR,
  );
  // All of them at once: the share is all, and none of the others is an event that took one alone.
  expect(reclaim?.share).toBeCloseTo(1, 6);
  expect(reclaim?.rate).toMatchObject({ shape: 1 });
  expect(hazard.shape).toBeCloseTo(13, 6);
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
  const { hazard, reclaim } = ratesObserved({ gone, machineHours: hours * held, sharedHours: hours }, PRIOR);
  expect(reclaim?.share).toBeCloseTo(share, 1);
  expect((reclaim?.rate.shape ?? 0) / (reclaim?.rate.rate ?? 1)).toBeCloseTo(events, 2);
  expect(Math.abs(hazard.shape / hazard.rate / own - 1)).toBeLessThan(0.05);
});

test("spells are runs of refusals, half-way to the answers beside them", () => {
  const yes = (at: number): PoolAnswer => ({ at, isRefused: false });
  const no = (at: number): PoolAnswer => ({ at, isRefused: true });
  expect(spellsObserved([], 100)).toBeNull();
  expect(spellsObserved([yes(1), yes(5)], 100)).toBeNull();
  // From an hour before 10 (5 is too long ago to say) to half-way between 13 and 13.5; the second up to an hour from its one refusal.
  const answers = [yes(1), yes(5), no(10), no(13), yes(13.5), no(50)];
  expect(spellsObserved(answers, 101)).toEqual({ count: 2, dryHours: (4.25 + 2) / 2, availableHours: (100 - 6.25) / 2 });
  expect(spellsObserved([...answers].reverse(), 101)).toEqual(spellsObserved(answers, 101));
});

test("spells that were drawn are found again where it is asked often", () => {
  const [available, dry] = [30, 5];
  const answers: PoolAnswer[] = [];
  let [at, isDry] = [0, false];
  for (let n = 0; n < 400; n++) {
    const until = at - Math.log(draw(3, 5, n)) * (isDry ? dry : available);
    for (let t = Math.ceil(at * 10) / 10; t < until; t += 0.1) answers.push({ at: t, isRefused: isDry });
    [at, isDry] = [until, !isDry];
  }
  const seen = spellsObserved(answers, at);
  expect(Math.abs((seen?.dryHours ?? 0) / dry - 1)).toBeLessThan(0.15);
  expect(Math.abs((seen?.availableHours ?? 0) / available - 1)).toBeLessThan(0.15);
});
