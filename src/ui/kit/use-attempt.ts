"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { AnswerError } from "./ask";
import { useUntilTyped } from "./use-until-typed";

export type Attempt = Readonly<{
  problem: AnswerError | null;
  isBusy: boolean;
  /** What is wrong at a field, by its path; null where nothing is. */
  at: (path: string) => string | null;
  /** Does something and draws the page anew; true when it went through. What went wrong is shown until somebody types. */
  run: (work: () => Promise<unknown>) => Promise<boolean>;
  clear: () => void;
}>;

/** Something a person asks for that may be refused. */
export function useAttempt(): Attempt {
  const router = useRouter();
  const [problem, setProblem] = useState<AnswerError | null>(null);
  const [isBusy, setIsBusy] = useState(false);
  useUntilTyped(problem !== null, () => setProblem(null));
  return {
    problem,
    isBusy,
    at: (path) => problem?.fields.find((field) => field.path === path)?.message ?? null,
    clear: () => setProblem(null),
    async run(work) {
      setIsBusy(true);
      setProblem(null);
      try {
        await work();
        router.refresh();
        return true;
      } catch (error) {
        setProblem(error instanceof AnswerError ? error : new AnswerError(String(error), ""));
        return false;
      } finally {
        setIsBusy(false);
      }
    },
  };
}
