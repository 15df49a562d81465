"use client";
import { useState } from "react";
import type { SourceView } from "@/services/metrics";
import { ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Notice } from "../kit/notice";
import { useAttempt } from "../kit/use-attempt";
import { dayAndTime, placeOf } from "../kit/when";
import { SourceForm } from "./source-form";
import { Strangers } from "./strangers";

export type SourceRowProps = { source: SourceView; accounts: readonly string[]; now: number; zone: string };

/** One source: how it goes, whom it names and whom not, and what can be done with it. */
export function SourceRow({ source, accounts, now, zone }: SourceRowProps) {
  const { run, isBusy, problem } = useAttempt();
  const [isOpen, setIsOpen] = useState<"change" | "remove" | null>(null);
  const [key, setKey] = useState<string | null>(null);
  const { id, name, kind, matched, unmatched, strangers, isPaused, history, refused, latenessS } = source;
  const path = `/api/sources/${id}`;
  const isAsked = history !== null && history.error === null && history.done < history.of;
  return (
    <li className="flex flex-col gap-1 border-lines border-b py-2" aria-label={name}>
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <h2 className="font-semibold text-[15px]">{name}</h2>
        <span className="text-soft">{kind === "push" ? "pushes by OTLP" : source.url}</span>
        <span className={stateOf(source).tone}>{stateOf(source).words(now, zone)}</span>
        <span>{source.rate !== null && `${Math.round(source.rate)} samples a minute`}</span>
        {latenessS !== null && (
          <span className="text-soft" title="19 in 20 samples of the last day came no later after the end of their slot">
            {latenessS === 0 ? "in time" : `usually ${latenessS / 60} min late`}
          </span>
        )}
        <span>
          {matched} {matched === 1 ? "machine" : "machines"} named
          {unmatched > 0 && <span className="text-loss">, {unmatched} not</span>}
        </span>
        {refused > 0 && (
          <span className="text-soft">
            {refused} {refused === 1 ? "sample" : "samples"} refused so far
          </span>
        )}
      </div>
      <p className="text-[13px] text-soft">
        {kind === "push"
          ? `${source.naming.attribute} holds ${holds(source)}; a sample each ${source.stepS} s.`
          : `${source.queries.map(({ metric, label }) => `${metric} by ${label}`).join(", ")}, which holds ${holds(source)}; asked each ${source.stepS} s.`}
      </p>
      {source.error && (
        <Notice kind="warning">
          {source.errorAt !== null && `${dayAndTime(source.errorAt, zone, now)} ${placeOf(zone)}: `}
          {source.error}
        </Notice>
      )}
      {unmatched > 0 && (
        <details>
          <summary className="cursor-pointer">Hosts that name no machine</summary>
          <Strangers hosts={strangers} of={unmatched} />
        </details>
      )}
      {history && (
        <p className="flex items-center gap-2 text-[13px]">
          {history.error ? (
            <span className="text-loss">
              ✕ Its past stopped after {history.done} days: {history.error}
            </span>
          ) : (
            <>
              <progress value={history.done} max={history.of} aria-label={`Past of ${name}`} />
              {history.done < history.of
                ? `its past: ${history.done} of ${history.of} days`
                : `its past is here: ${history.of} days`}
            </>
          )}
        </p>
      )}
      {problem && <Notice kind="error">{problem.message}</Notice>}
      {key && (
        <Notice kind="fine">
          The new key, shown this once; the old one opens nothing any more: <code className="break-all">{key}</code>
        </Notice>
      )}
      <div className="flex flex-wrap gap-2">
        <Button
          disabled={isBusy}
          onClick={() => setIsOpen(isOpen === "change" ? null : "change")}
          aria-expanded={isOpen === "change"}
        >
          Change
        </Button>
        <Button
          disabled={isBusy}
          onClick={() => run(() => ask(`${path}/pause`, { method: "PUT", body: { isPaused: !isPaused } }))}
        >
          {isPaused ? "Go on" : "Pause"}
        </Button>
        {kind === "push" ? (
          <Button
            disabled={isBusy}
            onClick={() => run(async () => setKey((await ask<{ key: string }>(`${path}/key`, { method: "POST" })).key))}
          >
            New key
          </Button>
        ) : (
          <Button disabled={isBusy || isAsked} onClick={() => run(() => ask(`${path}/history`, { method: "POST" }))}>
            Ask for its last 28 days
          </Button>
        )}
        <Button look="quiet" disabled={isBusy} onClick={() => setIsOpen(isOpen === "remove" ? null : "remove")}>
          Remove…
        </Button>
      </div>
      {isOpen === "remove" && (
        <div className="flex flex-wrap items-center gap-2">
          <span>{kind === "push" ? "Its key opens nothing from then on." : "It is asked nothing more."}</span>
          <Button disabled={isBusy} onClick={() => run(() => ask(path, { method: "DELETE", body: { keepsSamples: true } }))}>
            Remove {name}, keep its samples
          </Button>
          <Button disabled={isBusy} onClick={() => run(() => ask(path, { method: "DELETE", body: { keepsSamples: false } }))}>
            Remove {name} and its samples
          </Button>
        </div>
      )}
      {isOpen === "change" && <SourceForm kind={kind} source={source} accounts={accounts} onDone={() => setIsOpen(null)} />}
    </li>
  );
}

function holds({ naming }: SourceView): string {
  const what =
    naming.names === "tag" ? `the tag ${naming.tag}` : naming.names === "id" ? "the provider's id" : "the machine's name";
  return naming.account === null ? what : `${what} in ${naming.account}`;
}

/** Silent for longer than three of its samples is worth a word. */
const SILENT_STEPS = 3;
const SILENT_S = 600;

function stateOf({ isPaused, sampleAt, stepS }: SourceView): { tone: string; words: (now: number, zone: string) => string } {
  if (isPaused) return { tone: "text-soft", words: () => "‖ paused" };
  if (sampleAt === null) return { tone: "text-soft", words: () => "○ no sample yet" };
  const isSilent = (now: number) => now - sampleAt > Math.max(SILENT_S, SILENT_STEPS * stepS);
  return {
    tone: "",
    words: (now, zone) =>
      `${isSilent(now) ? "✕ silent since" : "✓ last sample"} ${dayAndTime(sampleAt, zone, now)} ${placeOf(zone)}`,
  };
}
