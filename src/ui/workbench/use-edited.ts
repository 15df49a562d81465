"use client";
import { useCallback, useDeferredValue, useMemo, useState } from "react";
import type { Calendar, HoursLevel } from "@/core/hours";
import type { IdleRule } from "@/core/idle";
import type { FleetDraft, FleetPlan, ScheduleDraft } from "@/core/plan";
import { decodeLines } from "@/core/projection";
import { useBasis } from "../fleets/use-basis";
import { firstRound, saidHours } from "../ledger/first-round";
import { money } from "../ledger/money";
import { laidUnder, projectionOf } from "../ledger/project";
import { brickPrice } from "./brick-price";
import { checkSchedule, differences, knownSchedules, planOf } from "./draft";
import { useHours } from "./use-hours";
import { useProjection } from "./use-projection";
import { warningsOf } from "./warnings";

export type EditedInput = Readonly<{
  fleet: Readonly<{ id: number; name: string; inForce: FleetPlan | null }>;
  draft: FleetDraft;
  onDraft: (next: FleetDraft) => void;
  schedules: readonly ScheduleDraft[];
  calendars: readonly Calendar[];
  regionZones: Readonly<Record<string, string>>;
}>;

/** A draft with all that is worked out of it: whom it is on, its hours, what each lever is worth, whom it stops, and what is odd. */
export type Edited = ReturnType<typeof useEdited>;

export function useEdited({ fleet, draft, onDraft, schedules: files, calendars, regionZones }: EditedInput) {
  const { basis, isOld, error } = useBasis(draft.select, fleet.id);
  const hours = useHours({ draft, schedules: files, calendars, regionZones, basis });
  const { schedules, schedule, checked, drawn, zoneHint } = hours;
  const compiled = checked?.compiled ?? null;
  const plan = useMemo(() => planOf(draft), [draft]);
  const received = useMemo(() => (basis ? decodeLines(basis.projected) : []), [basis]);
  const laid = useMemo(() => basis && laidUnder(received, basis, draft.size), [received, basis, draft.size]);
  const projected = laid?.lines ?? received;
  const known = useMemo(() => knownSchedules(schedules, calendars, compiled), [schedules, calendars, compiled]);
  const onBasis = useMemo(() => basis && { basis, plan, schedules: known }, [basis, plan, known]);
  // Hours that are being mistyped are no hours yet, whatever is stored under their name.
  const hasHours = plan?.hours !== undefined && (typeof plan.hours !== "string" || compiled !== null);
  const rules = plan?.idle ?? NO_RULES;
  /** The rules while one is dragged; null while nothing is. */
  const [dragged, setDragged] = useState<readonly IdleRule[] | null>(null);
  const shownRules = dragged ?? rules;
  const [isMixAsked, setIsMixAsked] = useState(false);
  const askMix = useCallback(() => setIsMixAsked(true), []);
  const levers = useProjection({
    fleetId: fleet.id,
    draft,
    rules: shownRules,
    onBasis,
    laid,
    hasHours,
    hours: drawn?.compiled ?? null,
    zone: zoneHint,
    isMixAsked,
  });
  const { isPeopleCounted } = levers;
  // The price and the bricks are drawn at once; whom it stops and what is odd about it follow a moment later.
  const now = useMemo(() => ({ draft, schedule, checked: drawn, onBasis }), [draft, schedule, drawn, onBasis]);
  const later = useDeferredValue(now);
  const said = useMemo(() => (later.onBasis ? saidHours(later.onBasis) : []), [later]);
  const first = useMemo(() => later.onBasis && firstRound(later.onBasis), [later]);
  const currency = basis?.currency ?? "";
  const isPooled = draft.pooled !== undefined;
  const priceOf = useCallback(
    (level: HoursLevel, minutes: number) => `${money(brickPrice(projected, { said: level, minutes, isPooled }))} ${currency}`,
    [projected, currency, isPooled],
  );
  const reprice = useCallback(
    (week: ScheduleDraft) => {
      const other = checkSchedule(week, calendars).compiled;
      if (!other || !basis || !laid || !plan) return null;
      return projectionOf(laid, { basis, plan, schedules: new Map(known).set(week.name, other) });
    },
    [calendars, basis, plan, laid, known],
  );
  const warnings = useMemo(
    () =>
      basis && first ? warningsOf({ ...later, basis, first, said, now: basis.now, regionZones, onDraft, isPeopleCounted }) : [],
    [later, basis, first, said, regionZones, onDraft, isPeopleCounted],
  );
  return {
    basis,
    isOld,
    error,
    ...hours,
    ...levers,
    ...sizesOf(basis, isPooled),
    projected,
    rules,
    shownRules,
    setDragged,
    askMix,
    said,
    first,
    currency,
    priceOf,
    reprice,
    warnings,
    changes: differences(draft, fleet.inForce),
  };
}

const NO_RULES: readonly IdleRule[] = [];

/** How many machines it has, and the highest level that its hours may say: a pool's hours give counts of machines. */
function sizesOf(basis: ReturnType<typeof useBasis>["basis"], isPooled: boolean) {
  const lines = basis?.lines ?? [];
  const machineCount = lines.filter(({ resource, claimedBy }) => resource.kind === "machine" && claimedBy === null).length;
  const levels = lines.map(({ resource }) => (resource.kind === "machine" ? 1 : resource.levelMax));
  return { lines, machineCount, levelMax: Math.max(isPooled ? machineCount : 1, ...levels) };
}
