"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { AnswerError, ask } from "./ask";
import { Button } from "./button";

export type RemoveButtonProps = {
  name: string;
  /** Where it is taken away, and what the server asks to see with it. */
  path: string;
  body?: object;
  /** Where to go after it; the page is drawn anew where there is nowhere. */
  after?: string;
  /** It stands in no row that says what it takes away. */
  isAlone?: boolean;
};

/** Takes something away for good, after a second press. */
export function RemoveButton({ name, path, body = {}, after, isAlone = false }: RemoveButtonProps) {
  const router = useRouter();
  const [isAsking, setIsAsking] = useState(false);
  const [problem, setProblem] = useState("");
  async function remove() {
    try {
      await ask(path, { method: "DELETE", body });
      if (after) router.push(after);
      router.refresh();
    } catch (error) {
      setProblem(error instanceof AnswerError ? error.message : String(error));
    }
  }
  if (problem) {
    return (
      <span role="alert" className="text-loss">
        {problem}
      </span>
    );
  }
  return isAsking ? (
    <Button className="h-6! px-2! text-[13px]" onClick={() => void remove()}>
      Remove {name} for good
    </Button>
  ) : (
    <Button look="quiet" className="h-6! px-1! text-[13px]" aria-label={`Remove ${name}`} onClick={() => setIsAsking(true)}>
      remove{isAlone ? ` ${name}` : ""}
    </Button>
  );
}
