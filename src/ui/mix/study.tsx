"use client";
import { useCallback, useEffect, useState } from "react";
import { everyChoice, type Mix, trialSeconds } from "@/core/mix";
import type { StudyView } from "@/services/mix";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Notice } from "../kit/notice";
import type { Frontier } from "./use-mix";

export type StudyProps = Readonly<{
  fleet: string;
  /** What would be studied: the draft's mix with the hours of so many days. */
  mix: Mix | null;
  weekDays: number;
  /** The points of the last study, as of a week. */
  onPoints: (frontier: Frontier | null) => void;
}>;

export const STUDY_DAYS = 28;
const TRIALS = 2_000;
const LOOK_MS = 1_000;

/** Every mix there is, over four weeks, tried by the workers while the page may be left. */
export function Study({ fleet, mix, weekDays, onPoints }: StudyProps) {
  const [study, setStudy] = useState<StudyView | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const look = useCallback(async () => {
    try {
      setStudy(await ask<StudyView | null>(`/api/mix/studies?${new URLSearchParams({ fleet })}`));
      setProblem(null);
    } catch (error) {
      setProblem(error instanceof AnswerError ? error.message : String(error));
    }
  }, [fleet]);
  const isUnderWay = study?.state === "under way";
  useEffect(() => {
    void look();
    if (!isUnderWay) return;
    const looking = setInterval(() => void look(), LOOK_MS);
    return () => clearInterval(looking);
  }, [look, isUnderWay]);
  const tell = async (body: unknown) => {
    try {
      await ask("/api/mix/studies", { method: "POST", body });
      await look();
    } catch (error) {
      setProblem(
        error instanceof AnswerError ? [error.message, ...error.fields.map(({ message }) => message)].join(" ") : String(error),
      );
    }
  };
  const count = mix ? everyChoice(mix).length : 0;
  return (
    <div className="flex flex-col gap-1" data-testid="study">
      <p className="flex flex-wrap items-center gap-x-2 text-[13px]">
        {isUnderWay ? (
          <>
            <span role="status">
              {study.mixes} mixes over {study.days} days: {study.done} of {study.parts} parts done by the workers
            </span>
            <progress aria-label="How far the study is" max={study.parts} value={study.done} />
            <Button look="quiet" onClick={() => void tell({ cancel: study.id })}>
              Cancel
            </Button>
          </>
        ) : (
          <>
            <Button look="quiet" disabled={!mix} onClick={() => void tell({ fleet, mix, days: STUDY_DAYS, trials: TRIALS })}>
              Try all {count} over {STUDY_DAYS} days, in the background
            </Button>
            {mix && (
              <span className="text-soft">some {effortWords(trialSeconds(mix, STUDY_DAYS) * TRIALS * count)} of computing</span>
            )}
            {study?.state === "done" && study.points && (
              <Button look="quiet" onClick={() => onPoints(weekly(study, weekDays))}>
                Show the {study.mixes} tried last
              </Button>
            )}
            {study?.state === "failed" && (
              <span className="text-loss">✕ The last one was given up: {study.failure}. Try fewer units or rarer evictions.</span>
            )}
            {study?.state === "cancelled" && <span className="text-soft">The last one was cancelled.</span>}
          </>
        )}
      </p>
      {problem && <Notice kind="error">{problem}</Notice>}
    </div>
  );
}

/** Seconds of computing, roughly. */
function effortWords(seconds: number): string {
  if (seconds < 90) return `${Math.max(1, Math.round(seconds))} s`;
  return seconds < 5_400 ? `${Math.round(seconds / 60)} min` : `${Math.round(seconds / 3_600)} h`;
}

/** The points of a study as of so many days, beside what the page reckons of a week. */
function weekly({ points, days, mix }: StudyView, weekDays: number): Frontier {
  const share = weekDays / days;
  const own = (points ?? []).map((point) => ({
    ...point,
    cost: point.cost * share,
    missingUnitHours: point.missingUnitHours * share,
  }));
  return { points: own, count: own.length, of: mix };
}
