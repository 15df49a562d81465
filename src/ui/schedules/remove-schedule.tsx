"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";

/** Takes away a schedule that nobody uses, after a second press. */
export function RemoveSchedule({ name }: { name: string }) {
  const router = useRouter();
  const [isAsking, setIsAsking] = useState(false);
  const [problem, setProblem] = useState("");
  async function remove() {
    try {
      await ask(`/api/schedules/${encodeURIComponent(name)}`, { method: "DELETE", body: {} });
    } catch (error) {
      setProblem(error instanceof AnswerError ? error.message : String(error));
    }
    router.refresh();
  }
  if (problem) return <span className="text-loss">{problem}</span>;
  return isAsking ? (
    <Button className="h-6! px-2! text-[13px]" onClick={() => void remove()}>
      Remove {name} for good
    </Button>
  ) : (
    <Button look="quiet" className="h-6! px-1! text-[13px]" aria-label={`Remove ${name}`} onClick={() => setIsAsking(true)}>
      remove
    </Button>
  );
}
