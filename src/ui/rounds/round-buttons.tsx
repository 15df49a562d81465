"use client";
import { useRouter, useSearchParams } from "next/navigation";
import { useState } from "react";
import { tryParseInstant } from "@/core/time";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Choice } from "../kit/choice";
import { Field } from "../kit/field";
import { Notice } from "../kit/notice";
import { useAttempt } from "../kit/use-attempt";
import { useLive } from "../kit/use-live";

export type RoundButtonsProps = {
  /** The fleets in force: a round may be asked for one alone. */
  fleets: readonly string[];
  accounts: readonly string[];
};

/** Rehearse: everything but act, as of now or of the instant that the page tells of. Run now: without waiting for the minute. Pause: nothing is done until somebody resumes. */
export function RoundButtons({ fleets, accounts }: RoundButtonsProps) {
  const router = useRouter();
  const at = tryParseInstant(useSearchParams().get("at") ?? "");
  const [busy, setBusy] = useState<"" | "act" | "rehearse">("");
  const [problem, setProblem] = useState("");
  const [fleet, setFleet] = useState("");
  const [isPausing, setIsPausing] = useState(false);
  useLive(["round"], () => busy === "act" && setBusy(""));
  async function press(mode: "act" | "rehearse") {
    setBusy(mode);
    setProblem("");
    try {
      const body = { mode, ...(fleet === "" ? {} : { fleet }), ...(mode === "rehearse" && at !== null ? { at } : {}) };
      const { id } = await ask<{ id: number | null }>("/api/rounds", { method: "POST", body });
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
      <div className="flex flex-wrap items-center justify-end gap-2">
        <Button onClick={() => setIsPausing(!isPausing)} aria-expanded={isPausing}>
          Pause…
        </Button>
        <Choice
          label="for"
          isLabelBeside
          options={[{ value: "", label: "everything" }, ...fleets.map(named)]}
          value={fleet}
          onChange={(event) => setFleet(event.target.value)}
        />
        <Button onClick={() => press("rehearse")} disabled={busy !== ""}>
          {busy === "rehearse" ? "Rehearsing…" : at === null ? "Rehearse now" : "Rehearse this instant"}
        </Button>
        {at === null && (
          <Button look={isPausing ? "plain" : "strong"} onClick={() => press("act")} disabled={busy !== ""}>
            {busy === "act" ? "Running…" : "Run now"}
          </Button>
        )}
      </div>
      {isPausing && <PauseForm accounts={accounts} onDone={() => setIsPausing(false)} />}
      {problem && <Notice kind="error">{problem}</Notice>}
    </div>
  );
}

const named = (name: string) => ({ value: name, label: name });

function PauseForm({ accounts, onDone }: { accounts: readonly string[]; onDone: () => void }) {
  const { run, isBusy, problem, at } = useAttempt();
  const [account, setAccount] = useState("");
  const [reason, setReason] = useState("");
  return (
    <form
      aria-label="Pause rounds"
      className="flex flex-wrap items-end gap-2"
      onSubmit={async (event) => {
        event.preventDefault();
        const body = { account: account === "" ? null : account, reason };
        if (await run(() => ask("/api/pauses", { method: "POST", body }))) onDone();
      }}
    >
      <Choice
        label="Where"
        options={[{ value: "", label: "everywhere" }, ...accounts.map(named)]}
        value={account}
        onChange={(event) => setAccount(event.target.value)}
      />
      <Field
        label="Why"
        className="w-[260px]"
        value={reason}
        onChange={(event) => setReason(event.target.value)}
        error={at("reason")}
      />
      <Button type="submit" look="strong" disabled={isBusy}>
        Pause rounds
      </Button>
      {problem && at("reason") === null && <Notice kind="error">{problem.message}</Notice>}
    </form>
  );
}
