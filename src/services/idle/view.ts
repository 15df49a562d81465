import { type AlarmState, alarmReasonWords } from "@/core/idle";
import type { Instant } from "@/core/time";
import { type AlarmChange, type AlarmPause, alarmChanges, alarmList, alarmPauses, heldStops, type StoredAlarm } from "@/store";
import { type Actor, authorise, ESTATE, type Services } from "../admin";
import { loadSnapshot } from "../inventory";

/** With the name of what it is about, and why in words. */
type Told = Readonly<{ name: string; why: string }>;
export type AlarmLine = Omit<StoredAlarm, "reason"> & Told;
export type AlarmChangeLine = Omit<AlarmChange, "samples" | "reason"> & Told;

/** The alarms of a fleet or a machine: how many stand how, each, the last changes, and what is paused. */
export type AlarmsView = Readonly<{
  now: Instant;
  counts: Readonly<Record<AlarmState, number>>;
  /** Of those that tripped, how many run on: their stop is held until a person has spoken. */
  held: number;
  alarms: readonly AlarmLine[];
  changes: readonly AlarmChangeLine[];
  pauses: readonly AlarmPause[];
}>;

const CHANGES = 40;

export async function alarmsOf(
  services: Services,
  actor: Actor,
  of: Readonly<{ fleet: string } | { resourceId: string }>,
): Promise<AlarmsView> {
  authorise(actor, "look", ESTATE);
  const { pool } = services;
  const [{ now }, { resources }] = await Promise.all([services.clock.read(), loadSnapshot(services)]);
  const [alarms, changes, pauses, held] = await Promise.all([
    alarmList(pool, of),
    alarmChanges(pool, { ...of, limit: CHANGES }),
    alarmPauses(pool, now),
    heldStops(pool),
  ]);
  const names = new Map(resources.map(({ id, name }) => [id, name]));
  const nameOf = (id: string) => names.get(id) ?? id;
  const counts = { blind: 0, watching: 0, warned: 0, tripped: 0, paused: 0 };
  for (const { state } of alarms) counts[state]++;
  const isHeld = ({ state, resourceId }: Pick<StoredAlarm, "state" | "resourceId">) =>
    state === "tripped" && held.has(resourceId);
  const isOf = (pause: AlarmPause) =>
    "fleet" in of
      ? pause.fleet === of.fleet || alarms.some(({ resourceId }) => resourceId === pause.resourceId)
      : pause.resourceId === of.resourceId || alarms.some(({ fleet }) => fleet === pause.fleet);
  return {
    now,
    counts,
    held: alarms.filter(isHeld).length,
    alarms: alarms.map(({ reason, ...alarm }) => ({
      ...alarm,
      name: nameOf(alarm.resourceId),
      why: `${alarmReasonWords(reason, alarm.words)}${isHeld(alarm) ? "; it runs on: its stop is held until a person has spoken" : ""}`,
    })),
    changes: changes.map(({ samples: _, reason, ...change }) => ({
      ...change,
      name: nameOf(change.resourceId),
      why: alarmReasonWords(reason, change.words),
    })),
    pauses: pauses.filter(isOf),
  };
}
