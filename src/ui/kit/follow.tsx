"use client";
import { useEffect, useState } from "react";
import type { ActionLine } from "@/services/rounds";
import { ask } from "./ask";
import { durationWords } from "./duration-words";

const LOOK_MS = 1_000;
/** A change of state takes a minute or two; after this long it is the journal's. */
const LOOKS_MAX = 240;

export type FollowProps = { resourceId: string; since: number };

/** What came of one's own press, as it happens: what was sent, what the provider answered, how long it took. */
export function Follow({ resourceId, since }: FollowProps) {
  const [told, setTold] = useState<{ now: number; line: ActionLine | null }>({ now: since, line: null });
  useEffect(() => {
    let looks = 0;
    let timer: ReturnType<typeof setTimeout> | null = null;
    const leaving = new AbortController();
    const look = async () => {
      looks++;
      try {
        const body = { resourceId, since };
        const answer = await ask<{ now: number; lines: ActionLine[] }>("/api/actions", {
          method: "POST",
          body,
          signal: leaving.signal,
        });
        const line = answer.lines[0] ?? null;
        setTold({ now: answer.now, line });
        if (line !== null && line.endedAt !== null) return;
      } catch {
        // What is shown stays; the next look tries again.
      }
      if (looks < LOOKS_MAX && !leaving.signal.aborted) timer = setTimeout(look, LOOK_MS);
    };
    void look();
    return () => {
      leaving.abort();
      if (timer) clearTimeout(timer);
    };
  }, [resourceId, since]);
  return (
    <span role="status" className="text-[13px]" data-testid="follow">
      {words(told)}
    </span>
  );
}

function words({ now, line }: { now: number; line: ActionLine | null }): string {
  if (line === null) return "waits for the round";
  const { verb, status, sentAt, endedAt, lastAnswer, attempts } = line;
  const tries = attempts > 1 ? `, ${attempts} tries` : "";
  if (sentAt === null) return `${verb}: recorded, about to be sent`;
  if (endedAt !== null)
    return status === "done"
      ? `${verb}: done after ${durationWords(endedAt - sentAt)}${tries}`
      : `${verb}: ${status}${tries}, ${lastAnswer}`;
  return `${verb}: sent, ${lastAnswer || "no answer yet"}${tries}, ${durationWords(Math.max(0, now - sentAt))} so far`;
}
