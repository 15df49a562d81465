"use client";
import { useEffect, useRef, useState } from "react";
import { type Laid, type MixWorkers, openMixWorkers, type Simulated } from "@/browser/mix";
import { everyChoice, type FrontierPoint, type Mix, type MixChoice, type MixFigures, mostWanted } from "@/core/mix";
import { isSameJson } from "@/core/same";
import type { MixOffers } from "@/services/mix";
import { AnswerError, ask } from "../kit/ask";
import { useLive } from "../kit/use-live";

/** What could be had for what a selector matches; null while it is asked for, and where nothing of it is counted in machines. A null selector asks for nothing. */
export function useOffers(
  selector: string | null,
  fleetId: number,
): Readonly<{ offers: MixOffers | null; isRead: boolean; problem: string | null }> {
  const [answer, setAnswer] = useState<Readonly<{ selector: string; offers: MixOffers | null }> | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [turn, setTurn] = useState(0);
  // Days that were closed bring prices, and a person may set one: what is simulated over them follows.
  useLive(selector === null ? [] : ["spend"], () => setTurn((n) => n + 1), 2_000);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new turn asks again
  useEffect(() => {
    if (selector === null) return;
    const leaving = new AbortController();
    ask<MixOffers | null>(`/api/mix?${new URLSearchParams({ select: selector, fleet: String(fleetId) })}`, {
      signal: leaving.signal,
    }).then(
      (offers) => {
        setProblem(null);
        setAnswer((before) =>
          before?.selector === selector && isSameJson(before.offers, offers) ? before : { selector, offers },
        );
      },
      (error: unknown) => {
        if (!leaving.signal.aborted) setProblem(error instanceof AnswerError ? error.message : String(error));
      },
    );
    return () => leaving.abort();
  }, [selector, fleetId, turn]);
  return { offers: answer?.offers ?? null, isRead: answer !== null && answer.selector === selector, problem };
}

/** The points that were tried so far, of how many, and the mix that they are choices of. */
export type Frontier = Readonly<{ points: readonly FrontierPoint[]; count: number; of: Mix }>;

/** What a mix is simulated over: so many days, at prices drawn from those that its pools had. */
export type Over = Omit<Laid, "mix">;

/**
 * Simulates a mix anew at every edit, then the months that it is laid on, and its frontier when asked to. What was simulated stays
 * until the next is there; months of another mix do not.
 */
export function useMix(
  mix: Mix | null,
  over: Over,
  laidMonths: readonly Laid[],
): Readonly<{
  simulated: Simulated | null;
  months: readonly MixFigures[];
  frontier: Frontier | null;
  problem: string | null;
  askFrontier: () => void;
  cancelFrontier: () => void;
}> {
  const workers = useRef<MixWorkers | null>(null);
  const [simulated, setSimulated] = useState<Simulated | null>(null);
  const [months, setMonths] = useState<readonly MixFigures[]>(NO_MONTHS);
  const [frontier, setFrontier] = useState<Frontier | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    workers.current = openMixWorkers(setProblem);
    return () => {
      workers.current?.close();
      workers.current = null;
    };
  }, []);
  useEffect(() => {
    if (mix) workers.current?.simulate({ mix, ...over }, setSimulated);
    else {
      workers.current?.cancel("simulate");
      setSimulated(null);
    }
  }, [mix, over]);
  // Only once the week is there: whoever drags waits for nothing else.
  const isDone = simulated?.isDone ?? false;
  useEffect(() => {
    setMonths(NO_MONTHS);
    if (isDone && laidMonths.length > 0) workers.current?.months(laidMonths, setMonths);
    else workers.current?.cancel("months");
  }, [laidMonths, isDone]);
  // A point that is taken leaves the frontier standing; another mix is another frontier.
  const isOther = frontier !== null && mix !== null && !isTriedIn(frontier.of, mix);
  useEffect(() => {
    if (!isOther) return;
    workers.current?.cancel("frontier");
    setFrontier(null);
  }, [isOther]);
  return {
    simulated,
    months,
    frontier,
    problem,
    askFrontier() {
      if (!mix) return;
      const choices = spread(mix);
      const about = { count: choices.length, of: mix };
      setFrontier({ points: [], ...about });
      workers.current?.frontier({ mix, ...over }, choices, (points) => setFrontier({ points, ...about }));
    },
    cancelFrontier() {
      workers.current?.cancel("frontier");
      setFrontier(null);
    },
  };
}

const NO_MONTHS: readonly MixFigures[] = [];

/** Whether a mix is one of those that a frontier of another tries: firm units, order and which pools may differ. */
function isTriedIn(of: Mix, mix: Mix): boolean {
  const { firm: _, order: __, pools, ...rest } = mix;
  const { firm: ___, order: ____, pools: all, ...same } = of;
  return isSameJson(rest, same) && pools.every((pool) => all.some((other) => isSameJson(pool, other)));
}

/** Firm units are tried in this many steps at most: a picture of more points says no more. */
const STEPS = 20;

/** Firm from none to all, with each pool alone and with all by every order. */
function spread(mix: Mix): readonly MixChoice[] {
  const most = mostWanted(mix.wanted);
  return everyChoice(mix, [...new Set(Array.from({ length: STEPS + 1 }, (_, i) => Math.round((i / STEPS) * most)))]);
}
