"use client";
import Link from "next/link";
import { whyNotReplaced } from "@/core/mix";
import { lackWords } from "@/core/rounds";
import type { Attention as Line } from "@/services/rounds";
import { ask } from "../kit/ask";
import { Button } from "../kit/button";
import { LivePage } from "../kit/live-page";
import { useAttempt } from "../kit/use-attempt";
import { dayTimePlace } from "../kit/when";

/** What needs a person, on top of every place: a line each, with the thing to press. Nothing where nothing does. */
export function Attention({ lines, zone, now }: { lines: readonly Line[]; zone: string; now: number }) {
  return (
    <>
      <LivePage on={["round", "holds"]} />
      {lines.length > 0 && (
        <ul
          aria-label="What needs a person"
          className="max-h-[120px] shrink-0 overflow-auto border-lines border-b bg-raised print:hidden"
        >
          {lines.map((line) => (
            <li key={keyOf(line)} className="flex min-h-[30px] items-center gap-3 border-loss border-l-4 px-3 py-0.5">
              <span aria-hidden className="text-loss">
                △
              </span>
              <p className="min-w-0 flex-1">
                <Words line={line} zone={zone} now={now} />
              </p>
              <Press line={line} />
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

function keyOf(line: Line): string {
  switch (line.kind) {
    case "paused":
      return `paused ${line.pause.id}`;
    case "failing":
      return "failing";
    case "held":
      return `held ${line.round}`;
    case "missing":
    case "unhealthy":
      return `${line.kind} ${line.fleet}`;
    default:
      return `${line.kind} ${line.account}`;
  }
}

function Words({ line, zone, now }: { line: Line; zone: string; now: number }) {
  switch (line.kind) {
    case "paused": {
      const { account, person, reason, at } = line.pause;
      return (
        <>
          <b>Rounds are paused{account === null ? "" : ` in ${account}`}</b> since {dayTimePlace(at, zone, now)} by {person}:{" "}
          {reason}. Nothing is stopped or started{account === null ? "" : " there"}.
        </>
      );
    }
    case "failing":
      return (
        <>
          <b>Rounds fail</b> since {dayTimePlace(line.since, zone, now)}, and nothing is stopped or started: {line.error}.
        </>
      );
    case "held":
      return (
        <>
          <b>{line.stops} stops are held</b> by the round of {dayTimePlace(line.at, zone, now)}, until a person lets them go.
        </>
      );
    case "doubted":
      return (
        <>
          <b>The listing of {line.account} is doubted</b>: {lackWords(line.lack)}. Nothing is done there
          {line.doubt.person === null
            ? ""
            : `; ${line.doubt.person} said it is true, and the next one that says the same is believed`}
          .
        </>
      );
    case "missing":
      return (
        <>
          <b>
            {line.count} {line.count === 1 ? "machine" : "machines"} of {line.fleet} should be on and{" "}
            {line.count === 1 ? "is" : "are"} not
          </b>
          : {line.names.join(", ")}
          {line.count > line.names.length && ` and ${line.count - line.names.length} more`}; its provider says: {line.why}.
        </>
      );
    case "unhealthy":
      return (
        <>
          <b>
            {line.count} {line.count === 1 ? "machine" : "machines"} of {line.fleet} {line.count === 1 ? "is" : "are"} unhealthy
            and not replaced
          </b>
          : {line.names.join(", ")}
          {line.count > line.names.length && ` and ${line.count - line.names.length} more`}. {whyNotReplaced(line.care)}
        </>
      );
    case "unread":
      return (
        <>
          <b>{line.part === null ? `${line.account} cannot be read` : `The ${line.part} of ${line.account} cannot be read`}</b>
          {line.part === null && line.readAt !== null && `, last read ${dayTimePlace(line.readAt, zone, now)}`}: {line.error}
        </>
      );
    case "set aside":
      return (
        <>
          <b>
            {line.odd.length} in the listing of {line.account} cannot be understood
          </b>{" "}
          and {line.odd.length === 1 ? "is" : "are"} left alone:{" "}
          {line.odd
            .slice(0, 3)
            .map(({ name, why }) => `${name} (${why})`)
            .join(", ")}
          {line.odd.length > 3 && ` and ${line.odd.length - 3} more`}.
        </>
      );
  }
}

function Press({ line }: { line: Line }) {
  const { run, isBusy, problem } = useAttempt();
  const said = problem && <span role="alert">{problem.message}</span>;
  switch (line.kind) {
    case "paused":
      return (
        <>
          {said}
          <Button disabled={isBusy} onClick={() => run(() => ask(`/api/pauses/${line.pause.id}`, { method: "DELETE" }))}>
            Resume
          </Button>
        </>
      );
    case "failing":
      return <Link href="/rounds">Rounds</Link>;
    case "held":
      return <Link href={`/rounds/${line.round}`}>Look at them</Link>;
    case "doubted":
      if (!line.doubt.needsPerson || line.doubt.person !== null) return null;
      return (
        <>
          {said}
          <Button
            disabled={isBusy}
            onClick={() =>
              run(() => ask("/api/doubts", { method: "POST", body: { account: line.account, since: line.doubt.since } }))
            }
          >
            It is true
          </Button>
        </>
      );
    case "missing":
    case "unhealthy":
      return <Link href={`/rounds?search=${encodeURIComponent(line.fleet)}`}>Their rounds</Link>;
    default:
      return <Link href="/setup">Setup</Link>;
  }
}
