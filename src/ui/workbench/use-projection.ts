"use client";
import { useDeferredValue, useMemo } from "react";
import type { CompiledSchedule } from "@/core/hours";
import type { IdleRule } from "@/core/idle";
import type { FleetDraft } from "@/core/plan";
import type { Month, Projection } from "@/core/projection";
import type { PlanOnBasis } from "../ledger/first-round";
import { type Laid, projectionOf } from "../ledger/project";
import { type MixView, useMixView } from "../mix/use-mix-view";
import { type Trials, useQuiet } from "../quiet/use-quiet";
import { type PoolView, usePool } from "../ready/use-pool";

export type ProjectionInput = Readonly<{
  fleetId: number;
  draft: FleetDraft;
  /** The idle rules as they are shown: one may be on its way. */
  rules: readonly IdleRule[];
  onBasis: PlanOnBasis | null;
  laid: Laid | null;
  hasHours: boolean;
  /** The draft's hours; null while they do not read. */
  hours: CompiledSchedule | null;
  zone: string;
  /** What a mix could be of is looked at, though there may be none yet. */
  isMixAsked: boolean;
}>;

/** Tries a draft's levers on the weeks before, simulates its mix, and lays all of them, one after the other, for the ledger. */
export function useProjection({
  fleetId,
  draft,
  rules,
  onBasis,
  laid,
  hasHours,
  hours,
  zone,
  isMixAsked,
}: ProjectionInput): Readonly<{
  trials: Trials;
  pool: PoolView;
  mixView: MixView;
  /** By hours alone, at once. */
  byHours: Projection | null;
  projection: Projection | null;
  isPeopleCounted: boolean;
}> {
  const lines = laid?.lines ?? NO_LINES;
  const { trials, lever } = useQuiet({ selector: draft.select, rules, onBasis, lines, zone });
  const pool = usePool({ onBasis, lines, hours });
  const mixView = useMixView({
    fleetId,
    selector: draft.select,
    mix: draft.mix,
    schedule: hours,
    now: onBasis?.basis.now ?? 0,
    months: onBasis?.basis.months ?? NO_MONTHS,
    lines,
    isAsked: isMixAsked || draft.mix !== undefined,
  });
  // What idle alarms save, people bring and a mix saves comes when it has been tried; meanwhile hours stand alone.
  const idle = useDeferredValue(lever);
  const people = useDeferredValue(pool.people);
  const mix = useDeferredValue(mixView.lever);
  const planned = useMemo(() => onBasis && (hasHours ? onBasis : { ...onBasis, plan: null }), [onBasis, hasHours]);
  const byHours = useMemo(() => (laid && planned ? projectionOf(laid, planned) : null), [laid, planned]);
  const projection = useMemo(
    () => ((idle || people || mix) && laid && planned ? projectionOf(laid, planned, { idle, people, mix }) : byHours),
    [laid, planned, idle, people, mix, byHours],
  );
  return { trials, pool, mixView, byHours, projection, isPeopleCounted: people !== null };
}

const NO_LINES: Laid["lines"] = [];
const NO_MONTHS: readonly Month[] = [];
