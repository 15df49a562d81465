"use client";
import { useState } from "react";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Follow } from "../kit/follow";

/** Starts what is off by a hold of four hours at its own size; a second press does nothing more. */
export function StartPress({ id, name, level }: { id: string; name: string; level: number }) {
  const [state, setState] = useState<"" | "busy" | "done">("");
  const [since, setSince] = useState(0);
  const [problem, setProblem] = useState("");
  async function start() {
    setState("busy");
    try {
      const { from } = await ask<{ from: number }>("/api/holds", {
        method: "POST",
        body: { on: { resourceId: id }, level, until: null, reason: "started on request" },
      });
      setSince(from);
      setState("done");
    } catch (error) {
      setProblem(error instanceof AnswerError ? error.message : String(error));
      setState("");
    }
  }
  if (problem) return <span className="text-[13px] text-loss">{problem}</span>;
  if (state === "done")
    return (
      <span className="text-[13px]">
        held on for 4 h; <Follow resourceId={id} since={since} />
      </span>
    );
  return (
    <Button
      className="h-6! px-2! text-[13px]"
      disabled={state === "busy"}
      aria-label={`Start ${name} for 4 h`}
      onClick={() => void start()}
    >
      start, 4 h
    </Button>
  );
}
