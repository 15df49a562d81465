"use client";
import { useEffect, useState } from "react";
import type { FleetsChange, FleetsImpact } from "@/services/plans";
import { AnswerError, ask } from "../kit/ask";

/** What a change of whole fleets would do, asked for anew with each change; null while that is not known. */
export function useImpact(change: FleetsChange | null): { impact: FleetsImpact | null; problem: string } {
  const [answer, setAnswer] = useState<{ of: string; impact: FleetsImpact | null; problem: string }>({
    of: "",
    impact: null,
    problem: "",
  });
  const asked = change === null ? "" : JSON.stringify(change);
  useEffect(() => {
    if (asked === "") return;
    let isCurrent = true;
    ask<FleetsImpact>("/api/fleets/change/preview", { method: "POST", body: { change: JSON.parse(asked) } }).then(
      (impact) => isCurrent && setAnswer({ of: asked, impact, problem: "" }),
      (error: unknown) =>
        isCurrent &&
        setAnswer({ of: asked, impact: null, problem: error instanceof AnswerError ? error.message : String(error) }),
    );
    return () => {
      isCurrent = false;
    };
  }, [asked]);
  return answer.of === asked ? answer : { impact: null, problem: "" };
}
