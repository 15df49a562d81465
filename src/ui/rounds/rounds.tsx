import type { ComingEdge, Holds, Journal, JournalEntry, Round } from "@/services";
import { AtLink } from "../as-of/at-link";
import { HoldList } from "../holds/hold-list";
import { levelWord } from "../kit/level-word";
import { clockTime, dayAndTime, dayTimePlace } from "../kit/when";
import { RoundButtons } from "./round-buttons";

/** The coming edges by time, and the journal of rounds. */
export type RoundsProps = { journal: Journal; edges: readonly ComingEdge[]; holds: Holds };

export function Rounds({ journal, edges, holds }: RoundsProps) {
  const { last } = journal;
  return (
    <div className="px-4 py-3">
      <div className="mb-3 flex items-start justify-between gap-4">
        <h1 className="font-medium text-[20px] leading-7">
          {last ? (
            <>
              Last round at {dayTimePlace(last.at, "UTC")}: {outcome(last)}.
            </>
          ) : (
            "No round has run yet."
          )}
        </h1>
        <RoundButtons />
      </div>
      <div className="grid grid-cols-[minmax(0,5fr)_minmax(0,7fr)] gap-6">
        <div className="flex flex-col gap-4">
          <section aria-label="Holds">
            <h2 className="mb-1 font-semibold text-[15px]">Holds</h2>
            {holds.current.length === 0 ? (
              <p className="text-soft">
                None. A machine's row in Burn keeps it on for a few hours; its page and its fleet hold longer.
              </p>
            ) : (
              <HoldList holds={holds.current} zone="UTC" now={holds.now} />
            )}
            {holds.ended.length > 0 && <EndedHolds holds={holds.ended} now={holds.now} />}
          </section>
          <section aria-label="Coming edges">
            <h2 className="mb-1 font-semibold text-[15px]">Coming edges</h2>
            <Edges edges={edges} now={journal.now} />
          </section>
        </div>
        <section aria-label="Journal">
          <h2 className="mb-1 font-semibold text-[15px]">Journal</h2>
          <table className="w-full">
            <thead className="text-left text-[13px]">
              <tr className="h-[26px] border-lines border-b">
                <th className="pr-3 font-semibold">Round</th>
                <th className="pr-3 font-semibold">At, UTC</th>
                <th className="pr-3 font-semibold">Asked by</th>
                <th className="font-semibold">What came of it</th>
              </tr>
            </thead>
            <tbody>
              {journal.entries.map((entry) =>
                entry.kind === "round" ? (
                  <RoundLine key={entry.round.id} round={entry.round} />
                ) : (
                  <QuietLine key={entry.last.id} entry={entry} />
                ),
              )}
            </tbody>
          </table>
          {journal.entries.length === 0 && (
            <p className="text-soft">Every round writes a line here, also when there was nothing to do.</p>
          )}
          {journal.older !== null && (
            <AtLink href={`/rounds?before=${journal.older}`} className="mt-2 inline-block">
              Older rounds
            </AtLink>
          )}
        </section>
      </div>
    </div>
  );
}

function EndedHolds({ holds, now }: { holds: Holds["ended"]; now: number }) {
  return (
    <details className="mt-1 text-[13px]">
      <summary className="cursor-pointer text-soft">The last {holds.length} that ended</summary>
      <ul>
        {holds.map(({ id, name, level, from, to, releasedAt, reason, person }) => (
          <li key={id} className="border-lines border-b py-0.5">
            <b>{name}</b> {levelWord(level)}, {dayAndTime(from, "UTC", now)} to {dayTimePlace(releasedAt ?? to, "UTC", now)}
            {releasedAt !== null && ", released"}: {reason}, {person}
          </li>
        ))}
      </ul>
    </details>
  );
}

/** What came of a round, in words. */
export function outcome(round: Round): string {
  if (round.status === "running") return "under way";
  if (round.status === "failed") return `failed: ${round.error}`;
  const unread = Object.keys(round.unread);
  const parts = [
    round.braked > 0 ? `braked, ${round.braked} stops held for a person` : "",
    round.sent > 0
      ? `${round.mode === "rehearse" ? "would send" : "sent"} ${round.sent} ${round.sent === 1 ? "action" : "actions"}`
      : "",
    round.waiting > 0 ? `${round.waiting} waiting` : "",
    unread.length > 0 ? `could not read ${unread.join(", ")}` : "",
  ].filter(Boolean);
  return parts.length > 0 ? parts.join(", ") : `nothing to do for ${round.resources}`;
}

function RoundLine({ round }: { round: Round }) {
  const isBad = round.braked > 0 || round.status === "failed" || Object.keys(round.unread).length > 0;
  return (
    <tr className="h-[30px] border-lines border-b">
      <td className="pr-3">
        <AtLink
          href={`/rounds/${round.id}`}
          className="underline decoration-lines decoration-2 underline-offset-4 hover:decoration-lit-deep"
        >
          {round.mode === "rehearse" ? "Rehearsal" : "Round"} {round.id}
        </AtLink>
      </td>
      <td className="whitespace-nowrap pr-3">{dayAndTime(round.at, "UTC")}</td>
      <td className="pr-3">{round.askedBy}</td>
      <td className={round.sent > 0 ? "font-semibold" : ""}>
        {isBad && (
          <span aria-hidden className="text-loss">
            △{" "}
          </span>
        )}
        {outcome(round)}
      </td>
    </tr>
  );
}

function QuietLine({ entry }: { entry: Extract<JournalEntry, { kind: "quiet" }> }) {
  return (
    <tr className="h-[30px] border-lines border-b text-soft">
      <td className="pr-3">
        <AtLink href={`/rounds/${entry.last.id}`} className="underline decoration-lines underline-offset-4">
          {entry.count} rounds
        </AtLink>
      </td>
      <td className="whitespace-nowrap pr-3">
        {dayAndTime(entry.first.at, "UTC")} to {clockTime(entry.last.at, "UTC")}
      </td>
      <td className="pr-3">{entry.last.askedBy}</td>
      <td>nothing to do for {entry.last.resources}</td>
    </tr>
  );
}

function Edges({ edges, now }: { edges: readonly ComingEdge[]; now: number }) {
  if (edges.length === 0)
    return (
      <p className="text-soft">
        No fleet in force changes its level in the next fortnight. Put hours in force, and the coming starts and stops are listed
        here.
      </p>
    );
  return (
    <table className="w-full">
      <thead className="text-left text-[13px]">
        <tr className="h-[26px] border-lines border-b">
          <th className="pr-3 font-semibold">When</th>
          <th className="pr-3 font-semibold">Fleet</th>
          <th className="font-semibold">What</th>
        </tr>
      </thead>
      <tbody>
        {edges.map(({ at, fleet, fleetId, to, zone, machines }) => (
          <tr key={`${at} ${fleet} ${zone}`} className="h-[30px] border-lines border-b">
            <td className="whitespace-nowrap pr-3" title={`in ${Math.round((at - now) / 60)} min`}>
              {dayTimePlace(at, zone)}
            </td>
            <td className="pr-3">
              <AtLink href={`/fleets/${fleetId}`}>{fleet}</AtLink>
            </td>
            <td>
              {machines} {to === null ? "left as they are" : to === 0 ? "off" : to === 1 ? "on" : `to level ${to}`}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
