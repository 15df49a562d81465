"use client";
import { useCallback, useEffect, useRef, useState } from "react";
import { type HoursBy, type IdleTrials, openIdleTrials, type Picture, type TriedResource } from "@/browser/idle";
import { type EnvelopeAsked, type IdleRule, metricsRead, type SamplesHead } from "@/core/idle";
import type { Instant } from "@/core/time";
import { AnswerError } from "../kit/ask";
import { useLive } from "../kit/use-live";

export type Trials = Readonly<{
  state: "none" | "reading" | "ready" | "failed";
  message: string;
  head: SamplesHead | null;
  tried: readonly TriedResource[] | null;
  picture: (asked: EnvelopeAsked) => Promise<Picture | null>;
  worker: IdleTrials | null;
}>;

export type TrialsInput = Readonly<{
  selector: string;
  rules: readonly IdleRule[];
  /** Made for the resources of the samples; null until they are known. */
  hoursFor: (head: SamplesHead) => HoursBy | null;
  edgesFor: (head: SamplesHead) => readonly Instant[];
}>;

/** Reads the last weeks of what rules look at, and tries them in a worker whenever they, the hours or the machines change. */
export function useTrials({ selector, rules, hoursFor, edgesFor }: TrialsInput): Trials {
  const worker = useRef<IdleTrials | null>(null);
  const [read, setRead] = useState<Readonly<{ state: Trials["state"]; message: string; head: SamplesHead | null }>>({
    state: "none",
    message: "",
    head: null,
  });
  const [tried, setTried] = useState<readonly TriedResource[] | null>(null);
  const wanted = [...new Set(rules.flatMap(metricsRead))].sort();
  const [turn, setTurn] = useState(0);
  // Older days come in the background.
  useLive(["metrics"], () => setTurn((n) => n + 1), 3_000);
  const key =
    wanted.length === 0
      ? ""
      : new URLSearchParams([["selector", selector], ...wanted.map((metric) => ["metric", metric])]).toString();

  // biome-ignore lint/correctness/useExhaustiveDependencies: the same key is read again once there are more days
  useEffect(() => {
    if (key === "") {
      setRead({ state: "none", message: "", head: null });
      setTried(null);
      return;
    }
    const left = new AbortController();
    // Letters are still being typed: what they make is asked once they rest.
    const timer = setTimeout(async () => {
      setRead((old) => ({ ...old, state: old.head ? old.state : "reading" }));
      try {
        const response = await fetch(`/api/idle/samples?${key}`, { signal: left.signal });
        if (!response.ok) {
          const { error } = (await response.json()) as { error: { message: string } };
          throw new AnswerError(error.message, "refused");
        }
        const buffer = await response.arrayBuffer();
        if (left.signal.aborted) return;
        worker.current ??= openIdleTrials();
        const head = await worker.current.load(buffer);
        if (!left.signal.aborted) setRead({ state: "ready", message: "", head });
      } catch (error) {
        if (!left.signal.aborted)
          setRead({ state: "failed", message: error instanceof Error ? error.message : String(error), head: null });
      }
    }, 250);
    return () => {
      clearTimeout(timer);
      left.abort();
    };
  }, [key, turn]);

  const { head } = read;
  useEffect(() => {
    if (!head || !worker.current || rules.length === 0) return;
    const hours = hoursFor(head);
    if (!hours) return;
    let isOld = false;
    void worker.current.tryRules(rules, hours, edgesFor(head)).then(
      (resources) => {
        if (!isOld && resources) setTried(resources);
      },
      (error: unknown) => setRead((old) => ({ ...old, state: "failed", message: String(error) })),
    );
    return () => {
      isOld = true;
    };
  }, [head, rules, hoursFor, edgesFor]);

  useEffect(
    () => () => {
      worker.current?.close();
      worker.current = null;
    },
    [],
  );

  const picture = useCallback(async (asked: EnvelopeAsked) => (await worker.current?.picture(asked)) ?? null, []);
  return { ...read, tried: rules.length === 0 ? null : tried, picture, worker: worker.current };
}
