import { type IdleRule, idleRuleSchema } from "@/core/idle";

/** A rule to begin with, and for whom it is meant. */
export type Preset = Readonly<{ name: string; words: string; rule: IdleRule }>;

const condition = (metric: string, threshold: number, window: number, statistic: "mean" | "max" = "max") => ({
  metric,
  statistic,
  op: "<" as const,
  threshold,
  window,
});

export const PRESETS: readonly Preset[] = [
  {
    name: "The chair is empty",
    words: "for desks: nobody signed in for 45 min; who only disconnected is given 2 hours",
    rule: idleRuleSchema.parse({
      match: "all",
      conditions: [condition("sessions.active", 1, 45), condition("sessions.disconnected", 1, 120)],
      warn: 15,
      settle: 20,
      startMinutes: 3,
      action: "hibernate",
    }),
  },
  {
    name: "Nothing is computed",
    words: "for trial boxes: hardly any processor, network or disk for 2 hours",
    rule: idleRuleSchema.parse({
      match: "all",
      conditions: [
        condition("cpu", 8, 120, "mean"),
        condition("network", 60, 120, "mean"),
        condition("disk.ops", 20, 120, "mean"),
      ],
      warn: 30,
      settle: 30,
      startMinutes: 4,
    }),
  },
  {
    name: "Forgotten for days",
    words: "only tells: hardly any processor for two days",
    rule: idleRuleSchema.parse({ match: "all", conditions: [condition("cpu", 8, 1440, "mean")], action: "tell" }),
  },
];
