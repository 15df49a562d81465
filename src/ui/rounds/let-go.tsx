"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Field } from "../kit/field";

/** The stop brake's question: a person lets the stops of one round go, just those, by writing down how many they are, or keeps them on. */
export function LetGo({ round, stops }: { round: number; stops: number }) {
  const router = useRouter();
  const [typed, setTyped] = useState("");
  const [problem, setProblem] = useState("");
  const [said, setSaid] = useState<"yes" | "no" | null>(null);
  async function say(answer: "yes" | "no") {
    try {
      await ask("/api/rounds/held", { method: "POST", body: { round, stops, answer } });
      setSaid(answer);
      router.refresh();
    } catch (error) {
      setProblem(error instanceof AnswerError ? error.message : String(error));
    }
  }
  if (said !== null)
    return (
      <p role="status" className="mb-3 rounded-brick border-attention border-l-4 bg-raised px-3 py-2">
        {said === "yes"
          ? `${stops} stops were let go; they go with the next round.`
          : `${stops} are kept on: each is held as it is for a day.`}
      </p>
    );
  return (
    <form
      className="mb-3 flex flex-wrap items-end gap-3 rounded-brick border-loss border-l-4 bg-raised px-3 py-2"
      onSubmit={(event) => {
        event.preventDefault();
        void say("yes");
      }}
    >
      <p className="min-w-[280px] flex-1">
        {stops} stops are held, for the reasons below, until you say yes or no. If they are meant, write the number and let them
        go: just these, in the coming rounds.
      </p>
      <Field
        label={`Write ${stops}`}
        className="w-[120px]"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        error={problem || null}
      />
      <Button type="submit" disabled={typed.trim() !== String(stops)}>
        Let {stops} go
      </Button>
      <Button onClick={() => void say("no")}>Keep {stops} on for a day</Button>
    </form>
  );
}
