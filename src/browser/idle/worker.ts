import {
  envelopeOf,
  type IdleRule,
  metricsRead,
  type Samples,
  type Slots,
  slotsWithoutTrips,
  unpackSamples,
  weeklyWorth,
} from "@/core/idle";
import type { Answer, Ask, HoursBy } from "./messages";

/**
 * Keeps the samples of a fleet and tries rules on them, so that the page stays free. A sweep gives way between two
 * resources: it can be left, and what is tried meanwhile is answered.
 */
let samples: Samples | null = null;
const slots = new Map<string, Slots>();
let sweeping = 0;

const tell = (answer: Answer): void => postMessage(answer);

addEventListener("message", ({ data }: MessageEvent<Ask>) => {
  try {
    answer(data);
  } catch (error) {
    tell({ kind: "failed", id: "id" in data ? data.id : 0, message: error instanceof Error ? error.message : String(error) });
  }
});

function answer(ask: Ask): void {
  if (ask.kind === "load") {
    samples = unpackSamples(ask.buffer);
    slots.clear();
    return tell({ kind: "loaded", head: samples.head });
  }
  if (ask.kind === "cancel") {
    sweeping++;
    return;
  }
  if (!samples) return;
  const known = samples;
  if (ask.kind === "picture") {
    const { id, asked } = ask;
    return tell({ kind: "picture", id, picture: { metric: asked.metric, ...envelopeOf(known, asked) } });
  }
  if (ask.kind === "try") {
    const { id, rules, hours, edges } = ask;
    const resources = known.head.resources.map((_, i) => {
      const own = machineOf(known, { rules, hours }, i);
      const { offS, interruptions, byHour, replays } = weeklyWorth(rules, own, edges);
      return { offS, interruptions, byHour: byHour(), trips: replays.map(({ trips }) => trips) };
    });
    return tell({ kind: "tried", id, resources });
  }
  void sweep(known, ask);
}

function machineOf(known: Samples, { rules, hours }: Readonly<{ rules: readonly IdleRule[]; hours: HoursBy }>, i: number) {
  const over = hours.of[i];
  return {
    slots: slotsOf(known, rules, i),
    hours: over === null || over === undefined ? null : (hours.list[over] ?? null),
    isByHand: hours.isByHand,
  };
}

function slotsOf(known: Samples, rules: readonly IdleRule[], resource: number): Slots {
  const metrics = [...new Set(rules.flatMap(metricsRead))];
  const key = `${resource} ${metrics.join(" ")}`;
  const own = slots.get(key) ?? slotsWithoutTrips(known, resource, metrics);
  slots.set(key, own);
  return own;
}

type SweepAsk = Extract<Ask, { kind: "sweep" }>;

async function sweep(
  known: Samples,
  { id, rules, rule, condition, thresholds, windows, hours, edges, rates }: SweepAsk,
): Promise<void> {
  const own = ++sweeping;
  const points = thresholds.flatMap((threshold) =>
    windows.map((window) => ({
      threshold,
      window,
      tripCount: 0,
      offS: 0,
      offDueS: 0,
      interruptions: 0,
      saved: 0,
      rules: tried(rules, { rule, condition, threshold, window }),
    })),
  );
  const of = known.head.resources.length;
  for (let i = 0; i < of; i++) {
    if (own !== sweeping) return;
    const rate = rates[i];
    // What is guarded, or another fleet's, is none of this one's.
    if (rate === null) continue;
    const one = machineOf(known, { rules, hours }, i);
    for (const point of points) {
      const { offS, interruptions, replays } = weeklyWorth(point.rules, one, edges);
      const seconds = offS.reduce((sum, n) => sum + n, 0);
      point.offS += seconds;
      point.offDueS += seconds;
      point.saved += seconds * (rate ?? 0);
      point.interruptions += interruptions.reduce((sum, n) => sum + n, 0);
      point.tripCount += replays.reduce((sum, { tripCount }) => sum + tripCount, 0);
    }
    tell({ kind: "progress", id, done: i + 1, of });
    await new Promise((resolve) => setTimeout(resolve));
  }
  tell({ kind: "swept", id, points: points.map(({ rules: _, ...point }) => point), weeks: Math.max(0, edges.length - 1) });
}

type Trial = Pick<SweepAsk, "rule" | "condition"> & Readonly<{ threshold: number; window: number }>;

function tried(rules: readonly IdleRule[], { rule, condition, threshold, window }: Trial): IdleRule[] {
  return rules.map((one, r) =>
    r === rule
      ? { ...one, conditions: one.conditions.map((own, c) => (c === condition ? { ...own, threshold, window } : own)) }
      : one,
  );
}
