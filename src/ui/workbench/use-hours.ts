"use client";
import { useMemo } from "react";
import { type Calendar, livedIn, type Schedule, scheduleSchema } from "@/core/hours";
import type { FleetDraft, ScheduleDraft } from "@/core/plan";
import type { Basis } from "@/services/cost";
import { type CheckedSchedule, checkSchedule, scheduleOf } from "./draft";
import type { LivedIn } from "./schedule-choice";
import { zonesOf } from "./zones-of";

export type HoursInput = Readonly<{
  draft: FleetDraft;
  /** As they are written in a plan file. */
  schedules: readonly ScheduleDraft[];
  calendars: readonly Calendar[];
  regionZones: Readonly<Record<string, string>>;
  basis: Basis | null;
}>;

export type HoursView = Readonly<{
  schedules: readonly Schedule[];
  schedule: ReturnType<typeof scheduleOf>;
  /** The draft's hours as they are stored; and as they are drawn: without a zone of their own, where most of the machines are. */
  checked: CheckedSchedule | null;
  drawn: CheckedSchedule | null;
  /** Where the people of its machines live, most machines first. */
  livedInZones: readonly LivedIn[];
  zoneHint: string;
  zones: readonly string[];
}>;

/** The hours of a draft: which they are, whether they read, and where they are lived. */
export function useHours({ draft, schedules: files, calendars, regionZones, basis }: HoursInput): HoursView {
  const schedules = useMemo(() => files.map((file) => scheduleSchema.parse(file) as Schedule), [files]);
  const schedule = useMemo(() => scheduleOf(draft, schedules), [draft, schedules]);
  const checked = useMemo(() => schedule && checkSchedule(schedule, calendars), [schedule, calendars]);
  const livedInZones = useMemo(() => zonesOf(basis, regionZones), [basis, regionZones]);
  const zoneHint = livedInZones[0]?.zone ?? Object.values(regionZones)[0] ?? "UTC";
  const drawn = useMemo(
    () => checked && { ...checked, compiled: checked.compiled && livedIn(checked.compiled, zoneHint) },
    [checked, zoneHint],
  );
  const zones = useMemo(() => [...new Set(Object.values(regionZones))], [regionZones]);
  return { schedules, schedule, checked, drawn, livedInZones, zoneHint, zones };
}
