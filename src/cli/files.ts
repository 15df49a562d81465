import { readFileSync } from "node:fs";
import type { z } from "zod";
import { type CompiledSchedule, compileSchedule } from "@/core/hours";
import { parseFile, planFileSchema } from "@/core/plan";
import { isNearMiss, nearest } from "@/core/selector";
import { noAnswer, wrongUse } from "./problem";

/** Reads and checks a YAML or JSON file; each thing wrong in it is a line `FILE:LINE:COLUMN: what`. */
export function readFile<T>(path: string, schema: z.ZodType<T>): T {
  let text: string;
  try {
    text = readFileSync(path === "-" ? 0 : path, "utf8");
  } catch (error) {
    wrongUse(`${path}: ${(error as NodeJS.ErrnoException).code === "ENOENT" ? "no such file" : (error as Error).message}`);
  }
  const result = parseFile(text, schema);
  if (result.ok) return result.value;
  return noAnswer(
    ...result.issues.map(
      (issue) => `${path}:${issue.line}:${issue.column}: ${issue.path ? `${issue.path}: ` : ""}${issue.message}`,
    ),
  );
}

/** One schedule of a plan file, ready for asking. */
export function readSchedule(path: string, name: string): CompiledSchedule {
  const plan = readFile(path, planFileSchema);
  const schedule = plan.schedules.find((candidate) => candidate.name === name);
  if (!schedule) {
    const near = nearest(name, new Map(plan.schedules.map((known) => [known.name, 1])));
    const hint = near ? (isNearMiss(name, near.name) ? `; did you mean "${near.name}"?` : `; there is "${near.name}"`) : "";
    return noAnswer(`${path}: no schedule is named "${name}"${hint}`);
  }
  return compileSchedule(
    schedule,
    plan.calendars.find((calendar) => calendar.name === schedule.calendar),
  );
}
