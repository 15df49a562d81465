import { expect, test, vi } from "vitest";
import { DEMO_PERSON, listen, type Services } from ".";

test("a connection that cannot listen is let go of, every time, and another is tried", async () => {
  vi.useFakeTimers();
  vi.spyOn(console, "error").mockImplementation(() => {});
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
  const stop = listen({ pool } as unknown as Services, DEMO_PERSON, () => {});
  await vi.advanceTimersByTimeAsync(3500);
  expect(released).toEqual([true, true, true, true]);
  expect(console.error).toHaveBeenCalledTimes(4);
  pool.ended = true;
  stop();
  await vi.advanceTimersByTimeAsync(2000);
  expect(released).toHaveLength(4);
  vi.useRealTimers();
});
