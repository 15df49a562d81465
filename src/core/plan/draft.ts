import { z } from "zod";
import { idleRuleSchema } from "../idle/rule";
import { mixSchema } from "../mix/mix";
import { type FleetPlan, fleetSchema, GRACE_MINUTES } from "./file";
import { pooledSchema } from "./pooled";

const text = z.string().max(4000);

/** A schedule as it is being typed: any text, checked when it is put in force. */
export const scheduleDraftSchema = z.strictObject({
  name: text,
  zone: text,
  calendar: text.optional(),
  outside: z.union([text, z.number()]),
  rows: z
    .array(
      z.strictObject({
        day: z.union([text, z.array(text)]),
        spans: z.array(text).max(200).optional(),
        off: z.literal(true).optional(),
        holidays: z.literal("too").optional(),
      }),
    )
    .max(1000),
});

/** A fleet's plan as it is being edited. What is typed is kept as it is, right or wrong. */
export const fleetDraftSchema = z.strictObject({
  name: z.string().trim().min(1, "a fleet needs a name").max(80, "a name has at most 80 characters"),
  select: text,
  hours: z.union([text, z.strictObject({ fromTag: text })]).nullable(),
  lead: z.number().int().min(0, "a lead is from 0 minutes").max(1440, "a lead is at most 1440 minutes"),
  offAction: z.enum(["stop", "hibernate", "drop"]),
  starts: z.enum(["plan", "hand"]),
  enforce: z.enum(["always", "edges"]),
  grace: z.number().int().min(0, "a grace is from 0 minutes").max(1440, "a grace is at most 1440 minutes").default(GRACE_MINUTES),
  size: z.number().int().min(1, "a size is from 1").max(1_000_000, "a size is at most a million").optional(),
  idle: z.array(idleRuleSchema).optional(),
  mix: mixSchema.optional(),
  unhealthy: z.enum(["replace", "restart", "tell"]).optional(),
  pooled: pooledSchema.optional(),
  /** The schedule named in `hours`, where it was changed or is new; null where it stands as stored. */
  schedule: scheduleDraftSchema.nullable(),
});

/** A draft as the plan it means, or every issue of it by field; the schedule being edited is checked apart. */
export function tryDraftToPlan({ schedule: _, ...draft }: FleetDraft): z.ZodSafeParseResult<FleetPlan> {
  return fleetSchema.safeParse({ ...draft, hours: draft.hours ?? undefined });
}

/** The draft that says the same as a plan. */
export function planToDraft(plan: FleetPlan): FleetDraft {
  return { ...plan, hours: plan.hours ?? null, schedule: null };
}

export type FleetDraft = z.infer<typeof fleetDraftSchema>;
export type ScheduleDraft = z.infer<typeof scheduleDraftSchema>;
export type RowDraft = ScheduleDraft["rows"][number];
