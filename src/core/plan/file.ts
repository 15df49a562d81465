import { z } from "zod";
import { LEVEL_MAX } from "../hours/level";
import { calendarSchema, nameSchema, scheduleSchema } from "../hours/schedule";
import { idleRuleSchema } from "../idle/rule";
import { mixSchema } from "../mix/mix";
import { type SelectorText, selectorText, tryParseSelector } from "../selector";
import { pooledSchema } from "./pooled";

export const selectorTextSchema = z
  .string()
  .max(4000, "a selector has at most 4000 characters")
  .transform((text, context): SelectorText => {
    const result = tryParseSelector(text);
    if (result.ok) return selectorText(text);
    context.addIssue({ code: "custom", message: `"${text}": ${result.error.message}` });
    return z.NEVER;
  });

/** How long a person's start is kept unless a fleet says otherwise. */
export const GRACE_MINUTES = 120;

/** A fleet of a plan file: a selector and the plan for what it matches. */
export const fleetSchema = z.strictObject({
  name: nameSchema,
  select: selectorTextSchema,
  hours: z.union([nameSchema, z.strictObject({ fromTag: z.string().min(1) })]).optional(),
  lead: z.number().int().min(0).max(1440).default(0),
  offAction: z.enum(["stop", "hibernate", "drop"]).default("stop"),
  starts: z.enum(["plan", "hand"]).default("plan"),
  enforce: z.enum(["always", "edges"]).default("always"),
  /** How many minutes a person's start is kept against the hours. */
  grace: z.number().int().min(0).max(1440).default(GRACE_MINUTES),
  /** The own size of its groups: what on means for them. */
  size: z.number().int().min(1).max(LEVEL_MAX).optional(),
  idle: z.array(idleRuleSchema).optional(),
  mix: mixSchema.optional(),
  /** What is done with a member of its groups that is called unhealthy; replaced where nothing is said. */
  unhealthy: z.enum(["replace", "restart", "tell"]).optional(),
  /** Its machines do the same work, and any will do for anyone: hours give counts. */
  pooled: pooledSchema.optional(),
});

/** Version 1 of the plan file (docs/plan-format.md). */
export const planFileSchema = z
  .strictObject({
    umbrik: z.literal(1, { error: "expected 1, the version of the plan file" }),
    currency: z
      .string()
      .regex(/^[A-Z]{3}$/, "expected a three-letter currency code")
      .default("EUR"),
    calendars: z.array(calendarSchema).default([]),
    schedules: z.array(scheduleSchema),
    fleets: z.array(fleetSchema).prefault([]),
  })
  .superRefine((plan, context) => {
    const complain = (path: (string | number)[], message: string) => context.addIssue({ code: "custom", path, message });
    for (const list of ["calendars", "schedules", "fleets"] as const) {
      const seen = new Set<string>();
      plan[list].forEach(({ name }, i) => {
        if (seen.has(name)) complain([list, i, "name"], `"${name}" is there twice`);
        seen.add(name);
      });
    }
    plan.schedules.forEach(({ calendar }, i) => {
      if (calendar !== undefined && !plan.calendars.some(({ name }) => name === calendar)) {
        complain(["schedules", i, "calendar"], `no calendar is named "${calendar}"`);
      }
    });
    plan.fleets.forEach(({ hours, pooled }, i) => {
      if (typeof pooled?.spare === "string" && !plan.schedules.some(({ name }) => name === pooled.spare))
        complain(["fleets", i, "pooled", "spare"], `no schedule is named "${pooled.spare}"`);
      if (pooled && typeof hours !== "string")
        complain(["fleets", i, "pooled"], "a pooled fleet needs hours of its own, which say how many are on");
      if (typeof hours === "string" && !plan.schedules.some(({ name }) => name === hours)) {
        complain(["fleets", i, "hours"], `no schedule is named "${hours}"`);
      }
    });
  });

export type PlanFile = z.infer<typeof planFileSchema>;
export type FleetPlan = z.infer<typeof fleetSchema>;
