"use client";
import { useState } from "react";
import { ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Field } from "../kit/field";
import { useAttempt } from "../kit/use-attempt";

/** The most stops of a round, foreseen or not; none unless somebody sets one. */
export function StopLimit({ limit }: { limit: number | null }) {
  const { run, isBusy, problem, at } = useAttempt();
  const [text, setText] = useState(limit === null ? "" : String(limit));
  const save = (value: number | null) => run(() => ask("/api/stop-limit", { method: "PUT", body: { limit: value } }));
  return (
    <form
      aria-label="Limit on stops"
      className="flex flex-wrap items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void save(text.trim() === "" ? null : Number(text));
      }}
    >
      <Field
        label="Most stops of one round"
        className="w-[180px]"
        inputMode="numeric"
        placeholder="no limit"
        value={text}
        onChange={(event) => setText(event.target.value)}
        error={at("limit") ?? problem?.message ?? null}
      />
      <Button type="submit" disabled={isBusy || text.trim() === (limit === null ? "" : String(limit))}>
        Keep
      </Button>
      <p className="flex-1 self-center text-soft">
        Unforeseen stops are held beyond 10 and a twentieth of what runs, whatever stands here. A limit holds foreseen ones, too.
      </p>
    </form>
  );
}
