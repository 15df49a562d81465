import { readFileSync } from "node:fs";
import type { z } from "zod";
import { type CompiledSchedule, compileSchedule, isLocal, livedIn } from "@/core/hours";
import { parseFile, planFileSchema } from "@/core/plan";
import { isNearMiss, nearest } from "@/core/selector";
import { isZone } from "@/core/time";
import { noAnswer, wrongUse } from "./problem";

/** Reads and checks a YAML or JSON file; each thing wrong in it is a line `FILE:LINE:COLUMN: what`. */
export function readFile<T>(path: string, schema: z.ZodType<T>): T {
  const result = parseFile(readText(path), schema);
  if (result.ok) return result.value;
  return noAnswer(
    ...result.issues.map(
      (issue) => `${path}:${issue.line}:${issue.column}: ${issue.path ? `${issue.path}: ` : ""}${issue.message}`,
    ),
  );
}

/** The text of a file; `-` is stdin. */
export function readText(path: string): string {
  try {
    return readFileSync(path === "-" ? 0 : path, "utf8");
  } catch (error) {
    return wrongUse(`${path}: ${(error as NodeJS.ErrnoException).code === "ENOENT" ? "no such file" : (error as Error).message}`);
  }
}

/** One schedule of a plan file, ready for asking; one that is lived in each machine's own zone needs to be told where. */
export function readSchedule(path: string, name: string, zone: string | undefined): CompiledSchedule {
  checkZone(zone);
  const plan = readFile(path, planFileSchema);
  const schedule = plan.schedules.find((candidate) => candidate.name === name);
  if (!schedule) {
    const near = nearest(name, new Map(plan.schedules.map((known) => [known.name, 1])));
    const hint = near ? (isNearMiss(name, near.name) ? `; did you mean "${near.name}"?` : `; there is "${near.name}"`) : "";
    return noAnswer(`${path}: no schedule is named "${name}"${hint}`);
  }
  const compiled = compileSchedule(
    schedule,
    plan.calendars.find((calendar) => calendar.name === schedule.calendar),
  );
  if (isLocal(compiled) && zone === undefined) wrongUse(needsZone(name));
  return zone === undefined ? compiled : livedIn(compiled, zone);
}

/** Ends with a line where a zone is none. */
export function checkZone(zone: string | undefined): void {
  if (zone !== undefined && !isZone(zone)) wrongUse(`--zone "${zone}" is not a time zone: expected a name such as Europe/Oslo`);
}

export function needsZone(schedule: string): string {
  return `"${schedule}" is lived in the zone of each machine's region: say which with --zone, such as --zone Europe/Oslo`;
}
