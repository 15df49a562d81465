import { afterAll, beforeAll, expect, test } from "vitest";
import { type IdleRule, metricsRead, replay, type Sample, type Slots, slotsOf } from "@/core/idle";
import { parsePlanFile } from "@/core/plan";
import { WORKER } from "@/services/admin";
import { usualLatenessNow } from "@/services/metrics";
import { runRound } from "@/services/rounds";
import { alarmChanges, alarmList, recentSamples } from "@/store";
import { isSignedIn } from "../../standin/world/metrics";
import type { Unit } from "../../standin/world/types";
import { within } from "../support/patience";
import { HOUR, startTrusted, type Trusted } from "../support/trusted";

/** Desks that are stopped as soon as half an hour has gone by without anybody. */
const PLAN = `
umbrik: 1
schedules:
  - name: long
    zone: UTC
    rows: [{ day: daily, spans: ["06:00-23:00"] }]
fleets:
  - name: desks
    select: team = draughting and region = fjord-1 and name ~ desk-osl-0*
    hours: long
    idle:
      - match: all
        conditions:
          - { metric: sessions.active, statistic: max, op: "<", threshold: 1, window: 30 }
          - { metric: cpu, statistic: mean, op: "<", threshold: 8, window: 30 }
        action: hibernate
`;
const AFTERNOON = Date.UTC(2027, 2, 16, 12, 31) / 1000;

let trusted: Trusted;
beforeAll(async () => {
  trusted = await startTrusted(PLAN, ["desks"], { at: AFTERNOON, accounts: ["skerry-desks"] });
}, within(60));
afterAll(() => trusted?.close());

const now = () => trusted.keeper.now();
const keyOf = ({ account, id }: Unit) => `${account}:${id}`;
const desks = () => trusted.desks().filter(({ name }) => name < "desk-osl-10");

/** Rounds, one a minute, that see samples so many seconds after the end of their slot. */
async function roundsWith(count: number, lateOf: (resourceId: string, metric: string) => number): Promise<void> {
  const { services, keeper } = trusted;
  const late: typeof services = {
    ...services,
    provider: (account, signal) => {
      const parts = services.provider(account, signal);
      const { metrics } = parts;
      if (!metrics) return parts;
      return {
        ...parts,
        metrics: {
          ...metrics,
          metricAfter: async (metric, after) =>
            (await metrics.metricAfter(metric, after)).filter(({ resourceId, at }) => at + lateOf(resourceId, metric) <= now()),
        },
      };
    },
  };
  for (let i = 0; i < count; i++) {
    keeper.stepTo(keeper.now() + 60);
    if ((await runRound(late, WORKER, "act")) === null) throw new Error("another leads");
  }
}

const RULE = (() => {
  const plan = parsePlanFile(PLAN);
  return (plan.ok && plan.value.fleets[0]?.idle?.[0]) as IdleRule;
})();

/** When the replay of what was stored first trips, of each desk since an instant; null where it does not. */
async function replayed(from: number): Promise<Map<string, number | null>> {
  const metrics = metricsRead(RULE);
  const ids = desks().map(keyOf);
  const stored = await recentSamples(trusted.services.pool, { ids, metrics, from, to: now() });
  return new Map(
    ids.map((id) => {
      const slots = slotsOf((stored.get(id) ?? []) satisfies readonly Sample[], { stepS: 300, metrics }) as Slots | null;
      return [id, slots ? (replay(RULE, slots, null).trips[0]?.trippedAt ?? null) : null];
    }),
  );
}

/** When each desk first tripped, by the rounds. */
async function tripped(from: number): Promise<Map<string, number>> {
  const all = await alarmChanges(trusted.services.pool, { fleet: "desks", limit: 500 });
  const own = all.filter(({ state, at }) => state === "tripped" && at >= from);
  // The newest come first: the first of each stays.
  return new Map(own.map(({ resourceId, at }) => [resourceId, at]));
}

test(
  "sessions four minutes behind the processor, and one desk nine minutes behind all others, trip as the replay of what was stored does",
  async () => {
    const atWork = desks().filter((unit) => isSignedIn(trusted.keeper.world.seed, unit, now()));
    const slow = keyOf(atWork[0] as Unit);
    const from = now();
    await roundsWith(270, (resourceId, metric) => (resourceId === slow ? 540 : metric === "cpu" ? 0 : 240));
    const promised = await replayed(from - 45 * 60);
    const came = await tripped(from);
    expect(came.size).toBeGreaterThan(4);
    expect(came.has(slow)).toBe(true);
    for (const [id, at] of promised) {
      // What would trip within the last slots is still waited for; what was idle before had tripped before.
      if (at === null || at > now() - 1_800 || at < from) continue;
      expect(came.has(id), id).toBe(true);
      const waited = (came.get(id) as number) - at;
      expect(waited, id).toBeGreaterThanOrEqual(0);
      // A slot is waited for ten minutes at the most, and looked at within a minute.
      expect(waited, id).toBeLessThanOrEqual(660);
    }
    for (const id of came.keys()) expect(promised.get(id), id).not.toBeNull();
    const usual = await usualLatenessNow(trusted.services.pool, now(), null);
    expect(usual.of("skerry-desks", "cpu")).toBeLessThanOrEqual(540);
    expect(usual.of("skerry-desks", "sessions.active")).toBeGreaterThanOrEqual(240);
  },
  within(120),
);

test(
  "an account that is late as a whole is acted on as late as it is, and no more of its slots are lost than of others",
  async () => {
    const { services, keeper } = trusted;
    keeper.stepTo(Date.UTC(2027, 2, 17, 12, 30, 20) / 1000);
    const from = now();
    const LATE = 17 * 60;
    await roundsWith(270, () => LATE);
    const promised = await replayed(from);
    const came = await tripped(from);
    expect(came.size).toBeGreaterThan(4);
    for (const [id, at] of came) {
      const waited = at - (promised.get(id) ?? Number.NaN);
      expect(waited, id).toBeGreaterThanOrEqual(LATE);
      expect(waited, id).toBeLessThanOrEqual(LATE + 660);
    }
    // Before their lateness is known they may be taken for silent; then they are watched.
    const alarms = await alarmList(services.pool, { fleet: "desks" });
    expect(alarms.filter(({ reason }) => reason.code === "silent")).toEqual([]);
    expect((await usualLatenessNow(services.pool, now(), ["cpu"])).of("skerry-desks", "cpu")).toBeGreaterThanOrEqual(LATE);
    const stored = await recentSamples(services.pool, {
      ids: desks().map(keyOf),
      metrics: ["cpu"],
      from: from + HOUR,
      to: from + 2 * HOUR,
    });
    const running = desks().filter(({ life }) =>
      life.every(({ at, state }) => at > from + 2.5 * HOUR || at < from || state === "running"),
    );
    for (const unit of running) expect(stored.get(keyOf(unit))?.length ?? 0, unit.name).toBe(12);
  },
  within(120),
);
