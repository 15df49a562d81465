"use client";
import { useDeferredValue, useEffect, useMemo, useState } from "react";
import type { CompiledSchedule } from "@/core/hours";
import { capabilitiesFor, isGuarded } from "@/core/plan";
import { roughlyPerHour } from "@/core/pricing";
import { type Line, type PeopleUse, savedPerSecond } from "@/core/projection";
import { forecastPool, layPool, type PoolForecast, type PoolHistory, type PoolTerms, peopleOver } from "@/core/ready";
import { placesByName } from "@/core/rounds";
import { hoursTarget } from "@/core/targets";
import { AnswerError, ask } from "../kit/ask";
import { capabilitiesOf, type PlanOnBasis } from "../ledger/first-round";

export type PoolInput = Readonly<{
  onBasis: PlanOnBasis | null;
  /** The lines of the projection, in the order of the basis. */
  lines: readonly Line[];
  /** The hours that give the pool its counts; null while they do not read. */
  hours: CompiledSchedule | null;
}>;

export type PoolView = Readonly<{
  /** Null while the sessions are being read, and for a fleet that is no pool. */
  forecast: PoolForecast | null;
  problem: string | null;
  /** What people and spare machines bring above the hours; null where no whole week of sessions is known. */
  people: PeopleUse | null;
}>;

/** The usual time of a start where a provider says none. */
const START_S = 120;

/** Lays the past weeks of a pool under its draft: the picture of the course, and what the ledger counts above the hours. */
export function usePool({ onBasis, lines, hours }: PoolInput): PoolView {
  const plan = onBasis?.plan ?? null;
  const basis = onBasis?.basis ?? null;
  const pooled = plan?.pooled;
  const isPooled = pooled !== undefined;
  const members = useMemo(
    () =>
      (basis?.lines ?? []).flatMap(({ resource, claimedBy }, i) =>
        isPooled && claimedBy === null && resource.kind === "machine" && !isGuarded(resource) ? [{ resource, i }] : [],
      ),
    [basis, isPooled],
  );
  const { disconnectWait = null, signOffWait = 0 } = pooled ?? {};
  const { history, problem } = useHistoryOf(members, { disconnectWait, signOffWait });
  const schedules = onBasis?.schedules;
  const spare = typeof pooled?.spare === "string" ? (schedules?.get(pooled.spare) ?? 0) : (pooled?.spare ?? 0);
  const hibernates = plan?.offAction === "hibernate";
  const leadMinutes = plan?.lead ?? 0;
  const terms = useMemo((): PoolTerms | null => {
    const [first] = members;
    const usual = basis && first ? capabilitiesFor(first.resource, capabilitiesOf(basis))?.usualS : undefined;
    const startS = (hibernates ? usual?.resume : usual?.start) ?? START_S;
    const all = members.length;
    const extra = typeof spare === "number" ? spare : hoursTarget(spare, { leadMinutes: 0, all });
    return hours && { target: hoursTarget(hours, { leadMinutes, all }), spare: extra, machines: all, startS };
  }, [hours, leadMinutes, spare, members, basis, hibernates]);
  // Painting goes first: weeks of minutes are laid when there is time for it.
  const later = useDeferredValue(terms);
  const laid = useMemo(() => (history && later && isPooled ? layPool(history, later) : null), [history, later, isPooled]);
  const rates = useMemo(
    () => members.flatMap(({ i }) => (lines[i] ? [savedPerSecond(lines[i].card, lines[i], hibernates)] : [])),
    [members, lines, hibernates],
  );
  const forecast = useMemo(() => {
    const sum = rates.reduce((total, rate) => total + roughlyPerHour(rate), 0);
    return laid && forecastPool(laid, rates.length === 0 ? 0 : sum / rates.length);
  }, [laid, rates]);
  const people = useMemo((): PeopleUse | null => {
    if (!laid || laid.weeks.edges.length < 2) return null;
    const extra = peopleOver(laid);
    const places = placesByName(members.map(({ resource, i }) => ({ id: String(i), name: resource.name })));
    return {
      seed: 1,
      lines: lines.map((line, i) => {
        const place = places.get(String(i));
        const over = place === undefined ? undefined : extra[place];
        return over && !line.isLeft ? { ...over, perSecond: savedPerSecond(line.card, line, hibernates) } : null;
      }),
    };
  }, [laid, members, lines, hibernates]);
  return { forecast, problem, people };
}

type Waits = Readonly<{ disconnectWait: number | null; signOffWait: number }>;
type Read = Readonly<{ key: string; history: PoolHistory | null; problem: string | null }>;

/** Reads sessions once for the same machines and waits. */
function useHistoryOf(
  members: readonly Readonly<{ resource: Readonly<{ id: string }> }>[],
  { disconnectWait, signOffWait }: Waits,
): Omit<Read, "key"> {
  const key = useMemo(
    () => JSON.stringify([members.map(({ resource }) => resource.id), disconnectWait, signOffWait]),
    [members, disconnectWait, signOffWait],
  );
  const [read, setRead] = useState<Read>({ key: "", history: null, problem: null });
  useEffect(() => {
    const [ids, disconnect, signOff] = JSON.parse(key) as [string[], number | null, number];
    if (ids.length === 0) return;
    const leaving = new AbortController();
    const body = { ids, waits: { disconnectWait: disconnect, signOffWait: signOff } };
    ask<PoolHistory>("/api/pools", { method: "POST", body, signal: leaving.signal }).then(
      (history) => setRead({ key, history, problem: null }),
      (error: unknown) => {
        if (leaving.signal.aborted) return;
        setRead({ key, history: null, problem: error instanceof AnswerError ? error.message : String(error) });
      },
    );
    return () => leaving.abort();
  }, [key]);
  // While other machines are being read, what was read before is not theirs.
  return members.length > 0 && read.key === key ? read : { history: null, problem: null };
}
