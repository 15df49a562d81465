"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { DAY_S, formatDate, type Instant } from "@/core/time";
import type { StrayLine } from "@/services/cost";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Follow } from "../kit/follow";
import { useUntilTyped } from "../kit/use-until-typed";

export type NextStepProps = { line: StrayLine; now: Instant };

const SMALL = "h-6! px-2! text-[13px]";
const MEANT_DAYS = 30;

/** What to do about a stray: in words where it is done elsewhere, by a press where Umbrik can. */
export function NextStep({ line, now }: NextStepProps) {
  const router = useRouter();
  const [asked, setAsked] = useState<"stop" | "meant" | null>(null);
  const [why, setWhy] = useState("");
  const [untilDay, setUntilDay] = useState(formatDate(Math.floor(now / DAY_S) + MEANT_DAYS));
  const [problem, setProblem] = useState("");
  const [done, setDone] = useState("");
  const [stoppedAt, setStoppedAt] = useState<Instant | null>(null);
  useUntilTyped(problem !== "", () => setProblem(""));
  const wrong = problem !== "" && (
    <span role="alert" className="min-w-0 basis-full text-loss">
      {problem}
    </span>
  );

  async function send(path: string, body: object, said: string) {
    setProblem("");
    try {
      const answer = await ask<{ answer?: string }>(path, { method: "POST", body });
      setAsked(null);
      if (path.endsWith("/stop")) setStoppedAt(now);
      setDone(answer.answer === undefined || answer.answer === "accepted" ? said : answer.answer);
      router.refresh();
    } catch (error) {
      setProblem(error instanceof AnswerError ? error.message : String(error));
    }
  }
  const mean = (day: string | null) =>
    send("/api/strays/acknowledged", { key: line.key, untilDay: day, reason: why }, day === null ? "no longer meant" : "meant");
  const stop = () =>
    send(`/api/machines/${encodeURIComponent(line.resourceId ?? "")}/stop`, { why: why.trim() || "a stray" }, "it is stopping");

  if (done)
    return (
      <span role="status">
        {done}
        {stoppedAt !== null && line.resourceId !== null && (
          <>
            ; <Follow resourceId={line.resourceId} since={stoppedAt} />
          </>
        )}
      </span>
    );
  if (line.meant) {
    return (
      <span className="flex items-center gap-2">
        <span className="truncate" title={line.meant.reason}>
          meant to {line.meant.untilDay}: {line.meant.reason}, {line.meant.person}
        </span>
        <Button look="quiet" className={SMALL} onClick={() => void mean(null)}>
          not any more
        </Button>
        {wrong}
      </span>
    );
  }
  if (asked === null) {
    return (
      <span className="flex flex-wrap items-center gap-2">
        <Words line={line} />
        {line.canStop && (
          <Button className={SMALL} aria-label={`stop it: ${line.name}`} onClick={() => setAsked("stop")}>
            stop it
          </Button>
        )}
        <Button look="quiet" className={SMALL} aria-label={`it is meant: ${line.name}`} onClick={() => setAsked("meant")}>
          it is meant
        </Button>
        {wrong}
      </span>
    );
  }
  return (
    <form
      className="flex flex-wrap items-center gap-2 py-0.5"
      onSubmit={(event) => {
        event.preventDefault();
        void (asked === "stop" ? stop() : mean(untilDay));
      }}
    >
      <input
        // biome-ignore lint/a11y/noAutofocus: it was asked for by the press before
        autoFocus
        required
        maxLength={300}
        aria-label={`Why, ${line.name}`}
        placeholder="why"
        className="h-6 min-w-0 flex-1 rounded-brick border border-ink/40 bg-raised px-1.5 text-[13px]"
        value={why}
        onChange={(event) => setWhy(event.target.value)}
      />
      {asked === "meant" && (
        <input
          type="date"
          required
          min={formatDate(Math.floor(now / DAY_S))}
          aria-label={`Meant until, ${line.name}`}
          className="h-6 rounded-brick border border-ink/40 bg-raised px-1 text-[13px]"
          value={untilDay}
          onChange={(event) => setUntilDay(event.target.value)}
        />
      )}
      <Button type="submit" className={SMALL}>
        {asked === "stop" ? `Stop ${line.name}` : "Mark as meant"}
      </Button>
      <Button look="quiet" className={SMALL} onClick={() => setAsked(null)}>
        leave it
      </Button>
      {wrong}
    </form>
  );
}

function Words({ line }: { line: StrayLine }) {
  switch (line.kind) {
    case "halted and billed":
      return <span className="text-soft">release it:</span>;
    case "disk without a machine":
    case "address without a machine":
      return <span className="text-soft">tag it with an owner, or give it back</span>;
    case "old image":
      return <span className="text-soft">start it, or give it back</span>;
    case "running long":
      return line.canHold && line.resourceId ? (
        <Link href={`/machines/${encodeURIComponent(line.resourceId)}`}>hold it</Link>
      ) : (
        <span className="text-soft">tag it into a fleet, or</span>
      );
    case "in no fleet":
      return <Link href="/fleets/new">make a fleet of it</Link>;
    case "tag that names nothing":
      return (
        <span>
          <code>{line.tag?.found}</code>
          {line.tag?.meant ? (
            <>
              , likely <code>{line.tag.meant}</code>: tag it so
            </>
          ) : (
            ": tag it right"
          )}
        </span>
      );
    case "unused commitment":
      return (
        <span>
          {line.used?.average.toFixed(1)} of {line.used?.units} in use: let it end, or move work to it
        </span>
      );
  }
}
