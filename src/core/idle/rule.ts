import { z } from "zod";

const minutes = z.number().min(0).max(525_600);
const METRIC_MAX = 200;

export const conditionSchema = z.strictObject({
  metric: z
    .string()
    .trim()
    .min(1, "a condition names a metric")
    .max(METRIC_MAX, `a metric's name has at most ${METRIC_MAX} characters`),
  statistic: z.enum(["mean", "max", "p95"]),
  op: z.enum(["<", "<=", ">", ">="]),
  threshold: z.number(),
  /** Minutes; a whole multiple of the step. */
  window: z.number().positive().max(525_600),
});

/** An idle rule as plan files and the database hold it (docs/model.md, Idle alarms). Times in minutes. */
export const idleRuleSchema = z
  .strictObject({
    match: z.enum(["all", "any"]),
    conditions: z.array(conditionSchema).min(1).max(20),
    coverage: z.number().min(0).max(1).default(0.9),
    warn: minutes.default(0),
    settle: minutes.default(0),
    interruptionWithin: minutes.default(30),
    startMinutes: minutes.default(0),
    step: z.number().positive().optional(),
    action: z.enum(["stop", "hibernate", "tell"]).default("stop"),
    applies: z.enum(["always", "inside", "outside"]).default("always"),
  })
  .superRefine(({ conditions, step }, context) => {
    if (step === undefined) return;
    if (!Number.isInteger(step * SECONDS))
      return context.addIssue({ code: "custom", path: ["step"], message: "a step is whole seconds" });
    conditions.forEach(({ window }, i) => {
      if (!isMultiple(window, step))
        context.addIssue({
          code: "custom",
          path: ["conditions", i, "window"],
          message: `a window of ${window} min is no whole multiple of the step of ${step} min`,
        });
    });
  });

const SECONDS = 60;

/** True where a window of minutes is a whole number of steps of minutes. */
export function isMultiple(window: number, step: number): boolean {
  const slots = (window * SECONDS) / (step * SECONDS);
  return slots >= 1 && Math.abs(slots - Math.round(slots)) < 1e-9;
}

export type IdleRule = z.infer<typeof idleRuleSchema>;
export type Condition = IdleRule["conditions"][number];

export const SESSIONS_ACTIVE = "sessions.active";
/** What says of itself that somebody is there only by way of the sessions that are active. */
export const AFTER_SESSIONS: readonly string[] = ["sessions.disconnected", "sessions.since_signoff"];

/** The metrics that a rule looks at, each once. */
export function metricsOf({ conditions }: Pick<IdleRule, "conditions">): readonly string[] {
  return [...new Set(conditions.map(({ metric }) => metric))];
}

/** What tells a rule from others of its fleet: a changed one is another. */
export function ruleKey(rule: IdleRule): string {
  const { match, conditions, coverage, warn, settle, action, applies } = rule;
  return JSON.stringify({
    match,
    conditions: conditions.map(({ metric, statistic, op, threshold, window }) => [metric, statistic, op, threshold, window]),
    coverage,
    warn,
    settle,
    action,
    applies,
  });
}

/** A rule in words: "cpu mean < 5 over 60 min and sessions.active max < 1 over 30 min". */
export function ruleWords({ match, conditions }: Pick<IdleRule, "match" | "conditions">): string {
  return conditions
    .map(({ metric, statistic, op, threshold, window }) => `${metric} ${statistic} ${op} ${threshold} over ${window} min`)
    .join(match === "all" ? " and " : " or ");
}
