"use client";
import { useCallback, useMemo } from "react";
import type { HoursBy } from "@/browser/idle";
import { hoursOver, type IdleRule, ruleWords, type SamplesHead, weekEdges } from "@/core/idle";
import { type FleetPlan, onlyLowers } from "@/core/plan";
import { roughlyPerHour } from "@/core/pricing";
import { hoursLeverOf, type IdleLever, type Line, savedPerSecond } from "@/core/projection";
import { type Instant, MINUTE_S } from "@/core/time";
import { dayTimePlace } from "../kit/when";
import { capabilitiesOf, type PlanOnBasis } from "../ledger/first-round";
import type { TripOf } from "./figures";
import { type Trials as Tried, useTrials } from "./use-trials";

/** What is tried, with what an hour off of each of the samples' machines is worth. */
export type Trials = Tried &
  Readonly<{ worth: Readonly<{ hours: HoursBy; edges: readonly Instant[]; rates: readonly (number | null)[] }> | null }>;

export type QuietInput = Readonly<{
  selector: string;
  rules: readonly IdleRule[];
  onBasis: PlanOnBasis | null;
  /** The lines of the projection, in the order of the basis. */
  lines: readonly Line[];
  /** Where weeks begin. */
  zone: string;
}>;

/** Tries the rules of a plan on the last weeks, by its hours, and makes the lever of the ledger of it. */
export function useQuiet({
  selector,
  rules,
  onBasis,
  lines,
  zone,
}: QuietInput): Readonly<{ trials: Trials; lever: IdleLever | null }> {
  const plan = onBasis?.plan ?? null;
  const basis = onBasis?.basis ?? null;
  const schedules = onBasis?.schedules;
  const hibernates = rules.some(({ action }) => action === "hibernate") && !rules.some(({ action }) => action === "stop");
  const place = useMemo(() => new Map((basis?.lines ?? []).map(({ resource }, i) => [resource.id, i])), [basis]);
  const hoursFor = useCallback(
    (head: SamplesHead): HoursBy | null =>
      basis && plan && schedules ? hoursOf(head, { plan, onBasis: { basis, plan, schedules }, lines, place }) : null,
    [basis, plan, schedules, lines, place],
  );
  // Weeks of which nothing is known are not weeks in which nothing happened.
  const edgesFor = useCallback((head: SamplesHead) => weekEdges(zone, { from: head.knownFrom, to: spanOf(head).to }), [zone]);
  const tried = useTrials({ selector, rules, hoursFor, edgesFor });
  const { head } = tried;
  const worth = useMemo(() => {
    const hours = head && hoursFor(head);
    if (!head || !hours) return null;
    const rates = head.resources.map(({ id }) => {
      const line = lines[place.get(id) ?? -1];
      if (line?.isLeft) return null;
      if (!line) return 0;
      return roughlyPerHour(savedPerSecond(line.card, line, hibernates));
    });
    return { hours, edges: edgesFor(head), rates };
  }, [head, hoursFor, edgesFor, lines, place, hibernates]);
  const lever = useMemo((): IdleLever | null => {
    if (!head || !tried.tried || edgesFor(head).length < 2) return null;
    const byId = new Map(head.resources.map(({ id }, i) => [id, tried.tried?.[i]]));
    return {
      kind: "idle",
      seed: 1,
      lines: (basis?.lines ?? []).map(({ resource }, i) => {
        const [own, line] = [byId.get(resource.id), lines[i]];
        return own && line && !line.isLeft
          ? { offS: own.offS, byHour: own.byHour, savedPerSecond: savedPerSecond(line.card, line, hibernates) }
          : null;
      }),
    };
  }, [head, tried.tried, basis, lines, hibernates, edgesFor]);
  return { trials: { ...tried, worth }, lever };
}

function spanOf({ firstEnd, stepS, count }: SamplesHead): { from: Instant; to: Instant } {
  return { from: firstEnd - stepS, to: firstEnd + (count - 1) * stepS };
}

type Known = Readonly<{ plan: FleetPlan; onBasis: PlanOnBasis; lines: readonly Line[]; place: ReadonlyMap<string, number> }>;

/** The hours of each of the samples' machines; those that follow the same share one. */
function hoursOf(head: SamplesHead, { plan, onBasis, lines, place }: Known): HoursBy {
  const resources = onBasis.basis.lines.map(({ resource }) => resource);
  const lever =
    plan.hours === undefined
      ? null
      : hoursLeverOf(plan, resources, { schedules: onBasis.schedules, capabilities: capabilitiesOf(onBasis.basis) });
  const list: HoursBy["list"][number][] = [];
  const known = new Map<string, number>();
  const compiledIds = new Map<object, number>();
  const of = head.resources.map(({ id }) => {
    const i = place.get(id);
    const followed = i === undefined ? null : lever?.followed[i];
    const line = i === undefined ? undefined : lines[i];
    if (!followed || !line) return null;
    const number = compiledIds.get(followed.schedule) ?? compiledIds.size;
    compiledIds.set(followed.schedule, number);
    const key = `${number} ${line.ownSize}`;
    const at =
      known.get(key) ??
      list.push(hoursOver(followed.schedule, { ...spanOf(head), leadMinutes: followed.leadMinutes, ownSize: line.ownSize })) - 1;
    known.set(key, at);
    return at;
  });
  return { isByHand: onlyLowers(plan), list, of };
}

/** What happened around a trip, in words. */
export function tripWords(
  { trippedAt, backAt, interruption, resource }: TripOf,
  { head, rule, zone, now }: Readonly<{ head: SamplesHead; rule: IdleRule | undefined; zone: string; now: Instant }>,
): string {
  const { name = "", owner = null } = head.resources[resource] ?? {};
  const back =
    backAt === null
      ? "nobody came back"
      : `${interruption ? "somebody was back" : "it came back"} ${Math.round((backAt - trippedAt) / MINUTE_S)} min later`;
  const whose = owner === null ? "" : `, ${owner}'s`;
  return `${name}${whose}: off at ${dayTimePlace(trippedAt, zone, now)} by ${rule ? ruleWords(rule) : "its rule"}; ${back}.`;
}
