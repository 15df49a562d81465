"use client";
import { useSearchParams } from "next/navigation";
import { useEffect, useRef, useState } from "react";
import { tryParseInstant } from "@/core/time";
import type { Basis } from "@/services/cost";
import { AnswerError, ask } from "../kit/ask";
import { useLive } from "../kit/use-live";
import { useMoneyView } from "../money/use-view";

const REST_MS = 120;

/** What a selector matches, asked again a moment after the last keystroke and after every round. */
export function useBasis(selector: string, fleetId: number | null): { basis: Basis | null; isOld: boolean; error: string } {
  const [state, setState] = useState<{ basis: Basis | null; of: string; error: string }>({ basis: null, of: "", error: "" });
  const at = tryParseInstant(useSearchParams().get("at") ?? "");
  const view = useMoneyView();
  const [turn, setTurn] = useState(0);
  const isFirst = useRef(true);
  useLive(["round", "fleets"], () => setTurn((n) => n + 1), 800);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new turn asks again
  useEffect(() => {
    const leaving = new AbortController();
    const timer = setTimeout(
      () => {
        ask<Basis>("/api/basis", { method: "POST", body: { selector, fleetId, at, view }, signal: leaving.signal }).then(
          (basis) => setState({ basis, of: selector, error: "" }),
          (error: unknown) => {
            if (!leaving.signal.aborted)
              setState((old) => ({ ...old, error: error instanceof AnswerError ? error.message : String(error) }));
          },
        );
        // Nobody types before there is anything to see.
      },
      isFirst.current ? 0 : REST_MS,
    );
    isFirst.current = false;
    return () => {
      clearTimeout(timer);
      leaving.abort();
    };
  }, [selector, fleetId, at, view, turn]);
  return { basis: state.basis, isOld: state.of !== selector, error: state.error };
}
