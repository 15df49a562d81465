import { expect, test } from "vitest";
import { chance } from "../../standin/world/chance";
import { ratesSeen, type Seen } from "../support/mix/observed";

const PRIOR = { shape: 1, rate: 100 };

test("evictions one by one are the machines' own; several at once are events, with their share", () => {
  const alone = Array.from({ length: 12 }, (_, i) => ({ at: i * 7, count: 1, held: 5 }));
  expect(ratesSeen({ gone: alone, machineHours: 1_000, sharedHours: 200 }, PRIOR)).toEqual({
    hazard: { shape: 13, rate: 1_100 },
    reclaim: null,
  });
  const { hazard, reclaim } = ratesSeen(
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
  const random = (n: number) => chance(7, n);
  const gone: Seen["gone"][number][] = [];
  let draws = 0;
  for (let h = 0; h < hours; h++) {
    for (let m = 0; m < held; m++) if (random(++draws) < own) gone.push({ at: h + m / 100, count: 1, held });
    if (random(++draws) >= events) continue;
    let count = 0;
    for (let m = 0; m < held; m++) if (random(++draws) < share) count++;
    if (count > 0) gone.push({ at: h + 0.5, count, held });
  }
  const { hazard, reclaim } = ratesSeen({ gone, machineHours: hours * held, sharedHours: hours }, PRIOR);
  expect(reclaim?.share).toBeCloseTo(share, 1);
  expect((reclaim?.rate.shape ?? 0) / (reclaim?.rate.rate ?? 1)).toBeCloseTo(events, 2);
  expect(Math.abs(hazard.shape / hazard.rate / own - 1)).toBeLessThan(0.05);
});
