import { DAY_S, type Instant } from "@/core/time";
import { type AlarmPause, addAlarmPause, addJob, alarmPauses, endAlarmPause, signal } from "@/store";
import { type Actor, authorise, ESTATE, type FieldIssue, RefusedError, type Services } from "../admin";
import { loadSnapshot } from "../inventory";

const PAUSE_DAYS_MAX = 90;

export type PauseRequest = Readonly<{
  on: Readonly<{ resourceId: string } | { fleet: string }>;
  until: Instant;
  reason: string;
}>;

/** Pauses the alarms of a machine or a fleet until an instant, with a reason. Throws a RefusedError naming each wrong field. */
export async function pauseAlarms(services: Services, actor: Actor, { on, until, reason }: PauseRequest): Promise<AlarmPause> {
  authorise(actor, "hold", ESTATE);
  const { now } = await services.clock.read();
  const issues: FieldIssue[] = [];
  if (reason.trim() === "") issues.push({ path: "reason", message: "a word of why is asked for" });
  if (until <= now) issues.push({ path: "until", message: "the end of a pause lies ahead of now" });
  if (until > now + PAUSE_DAYS_MAX * DAY_S) issues.push({ path: "until", message: `a pause ends within ${PAUSE_DAYS_MAX} days` });
  if (issues.length > 0) throw new RefusedError("invalid", issues[0]?.message ?? "", issues);
  const { resources, fleets } = await loadSnapshot(services);
  const isKnown = "fleet" in on ? fleets.some(({ name }) => name === on.fleet) : resources.some(({ id }) => id === on.resourceId);
  if (!isKnown) throw new RefusedError("not_found", "There is no such machine or fleet.");
  const pause = {
    resourceId: "fleet" in on ? null : on.resourceId,
    fleet: "fleet" in on ? on.fleet : null,
    from: now,
    to: until,
    reason: reason.trim(),
    person: actor.name,
  };
  const same = (await alarmPauses(services.pool, now)).find(
    (one) => one.resourceId === pause.resourceId && one.fleet === pause.fleet && one.to === until && one.reason === pause.reason,
  );
  if (same) return same;
  const id = await addAlarmPause(services.pool, pause);
  await news(services, actor);
  return { id, ...pause };
}

/** Ends a pause before its time. Throws a RefusedError where it has ended already. */
export async function resumeAlarms(services: Services, actor: Actor, id: number): Promise<void> {
  authorise(actor, "hold", ESTATE);
  const { now } = await services.clock.read();
  if (!(await endAlarmPause(services.pool, id, { person: actor.name, at: now })))
    throw new RefusedError("not_found", "That pause has ended already.");
  await news(services, actor);
}

async function news({ pool }: Services, actor: Actor): Promise<void> {
  await signal(pool, "holds");
  await addJob(pool, "round", { payload: { by: actor.name, fleet: null } });
}
