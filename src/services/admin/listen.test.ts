import { expect, test, vi } from "vitest";
import { log } from "@/log";
import { DEMO_ACTOR, listen, type Services } from ".";

test("a connection that cannot listen is let go of, every time, and another is tried", async () => {
  vi.useFakeTimers();
  const told = vi.spyOn(log, "error").mockImplementation(() => {});
  const released: unknown[] = [];
  const pool = {
    ended: false,
    ending: false,
    connect: async () => ({
      once() {},
      on() {},
      query: () => Promise.reject(new Error("the server is on its way down")),
      release: (isBroken: unknown) => released.push(isBroken),
    }),
  };
  const stop = listen({ pool } as unknown as Services, DEMO_ACTOR, () => {});
  await vi.advanceTimersByTimeAsync(3500);
  expect(released).toEqual([true, true, true, true]);
  expect(told).toHaveBeenCalledTimes(4);
  pool.ended = true;
  stop();
  await vi.advanceTimersByTimeAsync(2000);
  expect(released).toHaveLength(4);
  vi.useRealTimers();
});
