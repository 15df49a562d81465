import { z } from "zod";
import type { Instant } from "@/core/time";
import { ProviderError } from "./port";

/**
 * The time now, how fast it goes (snapshot seconds a second), and whether a person may move it. A demo's clock that runs
 * fast stands still at `waitAt` until the rounds have caught up with it; null where nothing holds it.
 */
export type ClockReading = Readonly<{ now: Instant; rate: number; isDemo: boolean; waitAt: Instant | null }>;

/** The one source of time. A demo's clock is the stand-in's, and can be moved. */
export type Clock = Readonly<{
  read: () => Promise<ClockReading>;
  setRate: (rate: number) => Promise<ClockReading>;
  stepTo: (to: Instant) => Promise<ClockReading>;
  /** How far it may run by itself; null: on and on. */
  setWaitAt: (at: Instant | null) => Promise<ClockReading>;
}>;

const readingShape = z.object({ now: z.number().int(), rate: z.number(), waitAt: z.number().int().nullable().default(null) });

const NOT_A_DEMO = "the real clock cannot be moved";

export const systemClock: Clock = {
  read: async () => ({ now: Math.floor(Date.now() / 1000), rate: 1, isDemo: false, waitAt: null }),
  setRate: () => Promise.reject(new ProviderError(NOT_A_DEMO)),
  stepTo: () => Promise.reject(new ProviderError(NOT_A_DEMO)),
  setWaitAt: () => Promise.reject(new ProviderError(NOT_A_DEMO)),
};

/** The clock at a URL, such as `http://127.0.0.1:4711/clock`. */
export function remoteClock(url: string): Clock {
  async function ask(path: string, body?: unknown): Promise<ClockReading> {
    const once = () =>
      fetch(`${url}${path}`, {
        ...(body === undefined
          ? {}
          : { method: "POST", body: JSON.stringify(body), headers: { "content-type": "application/json" } }),
        signal: AbortSignal.timeout(15_000),
        cache: "no-store",
      });
    // A kept connection may have been dropped at the other end; whatever is asked of a clock may be asked twice.
    const response = await once()
      .catch(once)
      .catch((error: unknown) => {
        throw new ProviderError("the clock does not answer", { cause: error });
      });
    const parsed = readingShape.safeParse(await response.json().catch(() => null));
    if (!response.ok || !parsed.success) throw new ProviderError(`the clock answered ${response.status}`);
    return { ...parsed.data, isDemo: true };
  }
  return {
    read: () => ask(""),
    setRate: (rate) => ask("", { rate }),
    stepTo: (to) => ask("/step", { to }),
    setWaitAt: (at) => ask("/wait", { at }),
  };
}
