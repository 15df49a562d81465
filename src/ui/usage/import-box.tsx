"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useId, useState } from "react";
import type { UsageImport } from "@/services/usage";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { ProblemNotice } from "../kit/problem";
import { useAttempt } from "../kit/use-attempt";
import { useLive } from "../kit/use-live";

export type ImportBoxProps = { imports: readonly UsageImport[]; now: number; zone: string };

const WORDS: Record<UsageImport["status"], string> = {
  arriving: "arriving",
  waiting: "waits for a worker",
  running: "is read",
  done: "taken in",
  refused: "refused",
  cancelled: "cancelled",
  "taking back": "being taken back",
  "taken back": "taken back",
};

/** FOCUS files in: each read in the background, with progress; cancelled or taken back whole. */
export function ImportBox({ imports: first }: ImportBoxProps) {
  const id = useId();
  const router = useRouter();
  const attempt = useAttempt();
  const [imports, setImports] = useState(first);
  const [isSending, setIsSending] = useState(false);
  const load = () => void ask<UsageImport[]>("/api/usage/imports").then(setImports, () => {});
  useLive(["usage"], load, 400);
  const send = (file: File) =>
    attempt.run(async () => {
      setIsSending(true);
      try {
        await upload(file);
      } finally {
        setIsSending(false);
        load();
      }
    });
  const end = (one: UsageImport) =>
    attempt.run(async () => {
      await ask(`/api/usage/imports/${one.id}`, { method: "DELETE" });
      load();
      router.refresh();
    });
  return (
    <section aria-label="FOCUS files" className="mt-4">
      <h2 className="mb-1 font-semibold text-[15px]">FOCUS files</h2>
      <div className="flex flex-wrap items-center gap-3">
        <label htmlFor={id} className="font-semibold text-[13px]">
          Take in a FOCUS CSV
        </label>
        <input
          id={id}
          type="file"
          accept=".csv,.gz,text/csv,application/gzip"
          disabled={isSending}
          onChange={(event) => {
            const [file] = event.target.files ?? [];
            event.target.value = "";
            if (file) void send(file);
          }}
        />
        {isSending && <span role="status">sending it; stay until it is there</span>}
      </div>
      <ProblemNotice problem={attempt.problem} />
      {imports.length === 0 && (
        <p className="mt-1 text-soft">
          None yet. A bill in the open FOCUS columns is read in the background, compared with what was computed, and can be taken
          back whole.
        </p>
      )}
      <ul className="mt-1">
        {imports.map((one) => (
          <li key={one.id} className="border-lines border-b py-1">
            <div className="flex items-center gap-3">
              <Link
                href={`/usage/${one.id}`}
                className="min-w-0 flex-1 truncate underline decoration-lines decoration-2 underline-offset-4"
              >
                {one.id}: {one.fileName}
              </Link>
              <span data-testid={`import-${one.id}`}>{WORDS[one.status]}</span>
              {(one.status === "running" || one.status === "waiting") && (
                <Button className="h-6! px-2! text-[13px]" onClick={() => void end(one)}>
                  cancel
                </Button>
              )}
              {one.status === "done" && (
                <Button
                  className="h-6! px-2! text-[13px]"
                  aria-label={`take it back: import ${one.id}`}
                  onClick={() => void end(one)}
                >
                  take it back
                </Button>
              )}
            </div>
            {one.status === "running" && (
              <progress className="h-2 w-full" max={one.sizeBytes} value={one.bytesDone} aria-label={`Import ${one.id}`} />
            )}
            <p className="text-[13px] text-soft">
              {one.error ||
                [
                  `${one.linesTaken} lines taken`,
                  one.linesRefused > 0 ? `${one.linesRefused} refused` : "",
                  one.status === "done" ? `${one.billed} ${one.currency} billed` : "",
                  one.firstDay ? `${one.firstDay} to ${one.lastDay}` : "",
                ]
                  .filter(Boolean)
                  .join(", ")}
            </p>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** The file goes as it is, whatever its size. */
async function upload(file: File): Promise<void> {
  const headers = { "content-type": "text/csv", "x-file-name": encodeURIComponent(file.name) };
  const response = await fetch("/api/usage/imports", { method: "POST", body: file, headers }).catch(() => null);
  if (!response) throw new AnswerError("The application does not answer. Nothing was taken in; try again.", "silent");
  const answer = await response.json().catch(() => null);
  if (!response.ok) throw new AnswerError(answer?.detail ?? `The application answered ${response.status}.`, "");
}
