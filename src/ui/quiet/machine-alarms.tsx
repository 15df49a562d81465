"use client";
import { useCallback, useEffect, useState } from "react";
import type { AlarmsView } from "@/services/idle";
import { AnswerError, ask } from "../kit/ask";
import { useLive } from "../kit/use-live";
import { dayTimePlace } from "../kit/when";
import { PausedLine, PauseForm } from "./alarms-now";

/** How the alarms of one machine stand and why, and their pause. Nothing where no rule looks at it. */
export function MachineAlarms({ id, zone }: { id: string; zone: string }) {
  const [view, setView] = useState<AlarmsView | null>(null);
  const [problem, setProblem] = useState("");
  const load = useCallback(async () => {
    try {
      setView(await ask<AlarmsView>(`/api/idle/alarms?machine=${encodeURIComponent(id)}`));
    } catch (error) {
      setProblem(error instanceof AnswerError ? error.message : String(error));
    }
  }, [id]);
  useEffect(() => void load(), [load]);
  useLive(["round", "holds"], () => void load());
  if (!view || view.alarms.length === 0) return problem === "" ? null : <p className="text-loss">{problem}</p>;
  const { alarms, pauses, now } = view;
  const own = pauses.find((pause) => pause.resourceId === id);
  return (
    <section aria-label="Idle alarms">
      <h2 className="mb-1 font-semibold text-[15px]">Idle alarms</h2>
      <ul>
        {alarms.map(({ rule, words, state, since, why }) => (
          <li key={rule}>
            <b>{state}</b> since {dayTimePlace(since, zone, now)}: {why}
            {why !== words && <span className="block text-[13px] text-soft">{words}</span>}
          </li>
        ))}
      </ul>
      {own ? (
        <PausedLine pause={own} zone={zone} now={now} onDone={() => void load()} />
      ) : (
        <div className="mt-1">
          <PauseForm on={{ resourceId: id }} now={now} onDone={() => void load()} />
        </div>
      )}
      {problem && (
        <p role="alert" className="text-loss">
          {problem}
        </p>
      )}
    </section>
  );
}
