import { setTimeout } from "node:timers/promises";
import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR } from "@/services/admin";
import { moveClock } from "@/services/rounds";
import { roundsLoop } from "@/worker/rounds-loop";
import { until, within } from "../support/patience";
import { HOUR, startTrusted, type Trusted } from "../support/trusted";

/** A demo's clock at an hour a second, and the loop of rounds as the worker runs it. */
let trusted: Trusted;
beforeAll(async () => {
  trusted = await startTrusted();
}, within(60));
afterAll(() => trusted?.close());

test(
  "at an hour a second no edge passes without its round, and the machines follow their hours",
  async () => {
    const { services, keeper } = trusted;
    const begin = keeper.now();
    await moveClock(services, DEMO_ACTOR, { kind: "rate", rate: 3600 });
    const ending = new AbortController();
    const loop = roundsLoop(services, ending.signal);
    // Five hours of it, however long its rounds take here.
    await until(() => keeper.now() - begin > 5 * HOUR, 60);
    ending.abort();
    await loop;
    await moveClock(services, DEMO_ACTOR, { kind: "rate", rate: 0 });
    const end = keeper.now();
    const edges = Array.from({ length: 400 }, (_, i) => Math.ceil(begin / HOUR) * HOUR + i * HOUR).filter(
      (at) => at < end - HOUR,
    );
    expect(edges.length).toBeGreaterThan(2);
    const { rows } = await services.pool.query<{ at: number }>("select at from round where mode = 'act' order by at");
    const rounds = new Set(rows.map(({ at }) => at));
    expect(edges.filter((at) => !rounds.has(at))).toEqual([]);
    // However fast it is, alarms and pools are looked at every five minutes.
    const inOrder = [...rounds].filter((at) => at >= begin && at < end).sort((a, b) => a - b);
    const apart = inOrder.slice(1).map((at, i) => at - (inOrder[i] as number));
    expect(Math.max(...apart)).toBeLessThanOrEqual(300);
    // Every change of a desk that was asked for was asked for at an edge, or at the round after it.
    const wrong = trusted.desks().flatMap((desk) =>
      desk.life
        .filter(({ at, state }) => at > begin && at < end - HOUR && (state === "starting" || state === "stopping"))
        .filter(({ at, state }) => {
          const isEven = Math.floor(at / HOUR) % 2 === 0;
          return isEven !== (state === "starting");
        })
        .map(({ at, state }) => `${desk.name} ${state} ${new Date(at * 1000).toISOString()}`),
    );
    expect(wrong).toEqual([]);
    const moved = trusted.desks().flatMap(({ life }) => life.filter(({ at }) => at > begin)).length;
    expect(moved).toBeGreaterThan(20);
  },
  within(90),
);

test("what nobody follows is waited for, and at its own pace nothing is", async () => {
  const { services, keeper } = trusted;
  await moveClock(services, DEMO_ACTOR, { kind: "rate", rate: 3600 });
  const { waitAt } = await services.clock.read();
  expect(waitAt).not.toBeNull();
  await setTimeout(1_500);
  expect(keeper.now()).toBe(waitAt);
  const { waitAt: none } = await moveClock(services, DEMO_ACTOR, { kind: "rate", rate: 1 });
  expect(none).toBeNull();
  await moveClock(services, DEMO_ACTOR, { kind: "rate", rate: 0 });
});
