import { asLevel, compileSchedule, type Schedule, scheduleSchema } from "@/core/hours";
import { layLevers } from "@/core/levers";
import { type AmountPerSecond, NO_RATE, type RateCard } from "@/core/pricing";
import { basisDays, type HoursFollowed, type Line, monthsFrom, ranOf } from "@/core/projection";
import { decide } from "@/core/rounds";
import type { LifeSpan } from "@/core/spend";
import { DAY_S } from "@/core/time";
import { aFleet, aMachine, aRound } from "../tests/support/make";
import { medianMs, report } from "./measure";

const NOW = Date.UTC(2027, 2, 11, 5) / 1000;
const MACHINES = 10_000;
const SCHEDULES = 50;

const schedules: readonly Schedule[] = Array.from({ length: SCHEDULES }, (_, i) =>
  scheduleSchema.parse({
    name: `s${i}`,
    zone: ["Europe/Oslo", "America/Santiago", "Pacific/Auckland", "Asia/Kathmandu"][i % 4],
    rows: [
      { day: "workdays", spans: [`0${6 + (i % 3)}:${String(i).padStart(2, "0")}-18:00`] },
      { day: "fri", spans: ["07:30-15:00"] },
      { day: "restdays", spans: ["10:00-12:00"] },
    ],
  }),
);

/** Projection of 10,000 machines on 50 schedules over 365 days, in exact money. */
export function benchProjection(yardstick: number): void {
  const card = (i: number): RateCard => ({
    perLevel: BigInt(1_000_000_007 + i * 730) as AmountPerSecond,
    licencePerCore: NO_RATE,
    licenceCoresMin: 0,
    licenceCores: 4,
    billing: { granularityS: i % 2 === 0 ? 1 : 60, minimumS: 60 },
    always: 7_000n as AmountPerSecond,
    addressesOn: NO_RATE,
    addressesOff: NO_RATE,
    image: NO_RATE,
    billedWhenHalted: true,
    unpriced: [],
  });
  const days = basisDays({ from: NOW - 28 * DAY_S, to: NOW });
  const months = monthsFrom(NOW, 12);
  const groups = schedules.map((_, s) =>
    Array.from({ length: MACHINES / SCHEDULES }, (__, i): Line => {
      const own = card(i);
      const life = days.slice(0, 20).flatMap((day): LifeSpan[] => [
        { from: day * DAY_S, to: day * DAY_S + 36_000, state: "running", level: asLevel(1) },
        { from: day * DAY_S + 36_000, to: (day + 1) * DAY_S, state: "stopped", level: asLevel(0) },
      ]);
      return {
        id: `${s}-${i}`,
        kind: "machine",
        one: { kind: "machine", fields: {} },
        levelMax: 1,
        ownSize: asLevel(1),
        card: own,
        ran: ranOf(life, { card: own, days }),
        isLeft: false,
        canHibernate: true,
      };
    }),
  );
  const work = () =>
    groups.map((lines, s) => {
      const followed: HoursFollowed = {
        schedule: compileSchedule(schedules[s] as Schedule),
        leadMinutes: 10,
        offAction: "stop",
        starts: "plan",
      };
      return layLevers({ lines, months, days, spare: null }, { hours: { kind: "hours", followed: lines.map(() => followed) } });
    });
  const ms = medianMs(work, 5);
  report({
    name: "projection of 10,000 machines on 50 schedules over 365 days",
    figure: `${(ms / 1000).toFixed(3)} s, ${(ms / yardstick).toFixed(1)} yardsticks`,
    target: "at most 1.0 s",
    isMet: ms <= 1000,
    yardstick: `sorting a million numbers, ${yardstick.toFixed(0)} ms`,
  });
}

/** Deciding a round for 10,000 machines in 50 fleets, without reading or writing anything. */
export function benchDecide(yardstick: number): void {
  const fleets = schedules.map(({ name }, i) =>
    aFleet({ name: `f${i}`, select: `team = t${i} and region = fjord-1`, hours: name, lead: 10 }),
  );
  const input = aRound({
    now: NOW,
    resources: Array.from({ length: MACHINES }, (_, i) =>
      aMachine({ name: `m${i}`, tags: { team: `t${i % SCHEDULES}`, owner: `o${i % 97}` } }),
    ),
    fleets,
    schedules: new Map(schedules.map((schedule) => [schedule.name, compileSchedule(schedule)])),
  });
  const ms = medianMs(() => decide(input), 9);
  report({
    name: "deciding a round for 10,000 machines",
    figure: `${ms.toFixed(1)} ms, ${(ms / yardstick).toFixed(2)} yardsticks`,
    target: "at most 150 ms",
    isMet: ms <= 150,
    yardstick: `sorting a million numbers, ${yardstick.toFixed(0)} ms`,
  });
}
