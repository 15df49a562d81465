import { type PlanFile, parsePlanFile, planToDraft } from "@/core/plan";
import { addFleet, inTransaction, maybeFleet, putCalendar, savePlanInForce, saveSchedule } from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";

/** Loads a plan file into an empty workplace: calendars, schedules, and fleets in rank order; those named are put in force. */
export async function loadPlan(
  services: Services,
  actor: Actor,
  { text, inForce }: { text: string; inForce: readonly string[] },
): Promise<PlanFile> {
  authorise(actor, "set up", ESTATE);
  const result = parsePlanFile(text);
  if (!result.ok) {
    const fields = result.issues.map(({ line, column, path, message }) => ({ path, message: `${line}:${column}: ${message}` }));
    throw new RefusedError("invalid", `The plan file was not loaded: ${fields[0]?.message}`, fields);
  }
  const { now } = await services.clock.read();
  const changed = { at: now, person: actor.name };
  await inTransaction(services.pool, async (tx) => {
    for (const calendar of result.value.calendars) await putCalendar(tx, calendar, changed);
    for (const schedule of result.value.schedules) await saveSchedule(tx, schedule, changed);
    for (const plan of result.value.fleets) {
      const draft = planToDraft(plan);
      const id = await addFleet(tx, draft);
      if (id === null || !inForce.includes(plan.name)) continue;
      const version = (await maybeFleet(tx, id))?.version ?? 1;
      await savePlanInForce(tx, id, {
        plan,
        draft,
        body: draft,
        version,
        why: "loaded from a plan file",
        person: actor.name,
        at: now,
      });
    }
  });
  return result.value;
}
