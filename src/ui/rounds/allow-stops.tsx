"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Field } from "../kit/field";

/** The stop brake's question: a person lets the stops through by writing down how many they are. */
export function AllowStops({ stops }: { stops: number }) {
  const router = useRouter();
  const [typed, setTyped] = useState("");
  const [problem, setProblem] = useState("");
  async function allow() {
    try {
      await ask("/api/rounds", { method: "POST", body: { mode: "act", allowStops: stops } });
      router.push("/rounds");
    } catch (error) {
      setProblem(error instanceof AnswerError ? error.message : String(error));
    }
  }
  return (
    <form
      className="mb-3 flex items-end gap-3 rounded-brick border-loss border-l-4 bg-raised px-3 py-2"
      onSubmit={(event) => {
        event.preventDefault();
        void allow();
      }}
    >
      <p className="flex-1">
        This round would have stopped {stops} at once, more than the brake allows, so it stopped none. If that is meant, write the
        number and run a round that may.
      </p>
      <Field
        label={`Write ${stops}`}
        className="w-[120px]"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        error={problem || null}
      />
      <Button type="submit" disabled={typed.trim() !== String(stops)}>
        Stop {stops}
      </Button>
    </form>
  );
}
