"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import type { OpenCalendar } from "@/services/plans";
import type { Impact } from "@/services/rounds";
import { AnswerError, ask } from "../kit/ask";
import { useHistory } from "../kit/use-history";
import { draftOf, storedOf } from "./calendar-draft";

/** A calendar as it is edited: what saving it would move is looked at first, and then it is saved. */
export type EditedCalendar = ReturnType<typeof useCalendar>;

export function useCalendar(stored: OpenCalendar["stored"]) {
  const router = useRouter();
  const [history, dispatch] = useHistory(draftOf(stored));
  const draft = history.present;
  const [moves, setMoves] = useState<Impact | null>(null);
  const [problem, setProblem] = useState<AnswerError | null>(null);
  const [isBusy, setIsBusy] = useState(false);
  const [isSaved, setIsSaved] = useState(false);

  async function attempt(work: () => Promise<void>) {
    setIsBusy(true);
    setProblem(null);
    try {
      await work();
    } catch (error) {
      setProblem(error instanceof AnswerError ? error : new AnswerError(String(error), ""));
    }
    setIsBusy(false);
  }
  return {
    draft,
    history,
    moves,
    problem,
    isBusy,
    isSaved,
    isChanged: JSON.stringify(storedOf(draft)) !== JSON.stringify(storedOf(draftOf(stored))),
    undo: () => dispatch({ kind: "undo" }),
    redo: () => dispatch({ kind: "redo" }),
    change: (to: typeof draft) => {
      setMoves(null);
      setIsSaved(false);
      dispatch({ kind: "change", to });
    },
    notYet: () => setMoves(null),
    preview: () =>
      attempt(async () => {
        const { calendar } = storedOf(draft);
        setMoves(await ask<Impact>("/api/calendars/preview", { method: "POST", body: { calendar } }));
      }),
    save: () =>
      attempt(async () => {
        const body = { ...storedOf(draft), version: stored?.version ?? 0, confirmedStops: moves?.stops.length ?? 0 };
        await ask("/api/calendars", { method: "POST", body });
        setMoves(null);
        setIsSaved(true);
        if (stored) router.refresh();
        else router.push(`/calendars/${encodeURIComponent(body.calendar.name)}`);
      }),
  };
}
