"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Notice } from "../kit/notice";
import { useLive } from "../kit/use-live";

/** Rehearse now: everything but act. Run now: without waiting for the minute. */
export function RoundButtons() {
  const router = useRouter();
  const [busy, setBusy] = useState<"" | "act" | "rehearse">("");
  const [problem, setProblem] = useState("");
  useLive(["round"], () => busy === "act" && setBusy(""));
  async function press(mode: "act" | "rehearse") {
    setBusy(mode);
    setProblem("");
    try {
      const { id } = await ask<{ id: number | null }>("/api/rounds", { method: "POST", body: { mode } });
      if (id === null) return;
      setBusy("");
      router.push(`/rounds/${id}`);
    } catch (error) {
      setProblem(error instanceof AnswerError ? error.message : String(error));
      setBusy("");
    }
  }
  return (
    <div className="flex flex-col items-end gap-1">
      <div className="flex gap-2">
        <Button onClick={() => press("rehearse")} disabled={busy !== ""}>
          {busy === "rehearse" ? "Rehearsing…" : "Rehearse now"}
        </Button>
        <Button look="strong" onClick={() => press("act")} disabled={busy !== ""}>
          {busy === "act" ? "Running…" : "Run now"}
        </Button>
      </div>
      {problem && <Notice kind="error">{problem}</Notice>}
    </div>
  );
}
