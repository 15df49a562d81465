import type { MixStory } from "@/services/mix";
import type { ActionLine, ComingEdge, Holds, Journal, JournalEntry, JournalQuery, Round } from "@/services/rounds";
import { AtLink } from "../as-of/at-link";
import { HoldList } from "../holds/hold-list";
import { levelWord } from "../kit/level-word";
import { clockTime, dayAndTime, dayTimePlace, placeOf } from "../kit/when";
import { EvictionLines } from "../mix/eviction-lines";
import { Coming } from "./coming";
import { RoundButtons } from "./round-buttons";
import { ActionList, JournalSearch } from "./search";

export type RoundsProps = {
  journal: Journal;
  edges: readonly ComingEdge[];
  holds: Holds;
  /** What was searched for and found; null where nothing is searched for. */
  found: Readonly<{ lines: readonly ActionLine[]; older: number | null }> | null;
  query: JournalQuery;
  /** What mixes lost in the last day. */
  evictions: MixStory;
  zone: string;
  /** Idle trips in effect, and how many of them are held back. */
  trips: Readonly<{ of: number; held: number }>;
  fleets: readonly string[];
  accounts: readonly string[];
};

const EVICTIONS_SHOWN = 6;

/** The coming edges by time, and the journal of rounds. */
export function Rounds({ journal, edges, holds, found, query, evictions, zone, trips, fleets, accounts }: RoundsProps) {
  const { last } = journal;
  return (
    <div className="px-4 py-3">
      <div className="mb-3 flex flex-wrap items-start justify-between gap-4">
        <h1 className="font-medium text-[20px] leading-7">
          {last ? (
            <>
              Last round at {dayTimePlace(last.at, zone, journal.now)}: {outcome(last)}.
            </>
          ) : (
            "No round has run yet."
          )}
        </h1>
        <RoundButtons fleets={fleets} accounts={accounts} />
      </div>
      <div className="grid grid-cols-1 gap-6 lg:grid-cols-[minmax(0,5fr)_minmax(0,7fr)]">
        <div className="flex flex-col gap-4">
          <section aria-label="Holds">
            <h2 className="mb-1 font-semibold text-[15px]">Holds</h2>
            {trips.of > 0 && <TripsLine {...trips} />}
            {holds.current.length === 0 ? (
              <p className="text-soft">
                {trips.of > 0 ? "No hold by hand." : "None."} A machine's row in Burn keeps it on for a few hours; its page and
                its fleet hold longer.
              </p>
            ) : (
              <HoldList holds={holds.current} zone={zone} now={holds.now} />
            )}
            {holds.ended.length > 0 && <EndedHolds holds={holds.ended} now={holds.now} zone={zone} />}
          </section>
          <section aria-label="Coming edges">
            <h2 className="mb-1 font-semibold text-[15px]">Coming, 7 days</h2>
            <Coming edges={edges} zone={zone} now={journal.now} />
          </section>
        </div>
        <section aria-label="Journal">
          <h2 className="mb-1 font-semibold text-[15px]">Journal</h2>
          {evictions.lines.length > 0 && !found && (
            <div className="mb-3">
              <h3 className="font-semibold text-[13px]">Taken back from mixes, 24 h</h3>
              <EvictionLines
                lines={evictions.lines.slice(0, EVICTIONS_SHOWN)}
                currency={evictions.currency}
                zone={zone}
                now={journal.now}
                hasFleets
              />
              {evictions.lines.length > EVICTIONS_SHOWN && (
                <p className="text-[13px] text-soft">
                  {evictions.lines.length - EVICTIONS_SHOWN} more: each fleet's Mix has them all.
                </p>
              )}
            </div>
          )}
          <JournalSearch query={query} />
          {found ? (
            <>
              <ActionList lines={found.lines} zone={zone} now={journal.now} />
              {found.older !== null && (
                <AtLink
                  href={`/rounds?${new URLSearchParams({ search: query.text, outcome: query.outcome, action: String(found.older) })}`}
                  className="mt-2 inline-block"
                >
                  Older ones
                </AtLink>
              )}
            </>
          ) : (
            <JournalTable journal={journal} zone={zone} />
          )}
        </section>
      </div>
    </div>
  );
}

function JournalTable({ journal, zone }: { journal: Journal; zone: string }) {
  return (
    <>
      <table className="w-full">
        <thead className="text-left text-[13px]">
          <tr className="h-[26px] border-lines border-b">
            <th className="pr-3 font-semibold">Round</th>
            <th className="pr-3 font-semibold">At, {placeOf(zone)}</th>
            <th className="pr-3 font-semibold">Asked by</th>
            <th className="font-semibold">What came of it</th>
          </tr>
        </thead>
        <tbody>
          {journal.entries.map((entry) =>
            entry.kind === "round" ? (
              <RoundLine key={entry.round.id} round={entry.round} zone={zone} />
            ) : (
              <QuietLine key={entry.last.id} entry={entry} zone={zone} />
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
    </>
  );
}

function EndedHolds({ holds, now, zone }: { holds: Holds["ended"]; now: number; zone: string }) {
  return (
    <details className="mt-1 text-[13px]">
      <summary className="cursor-pointer text-soft">The last {holds.length} that ended</summary>
      <ul>
        {holds.map(({ id, name, level, from, to, releasedAt, reason, person, kind }) => (
          <li key={id} className="border-lines border-b py-0.5">
            <b>{name}</b> {levelWord(level)}, {dayAndTime(from, zone, now)} to {dayTimePlace(releasedAt ?? to, zone, now)}
            {releasedAt !== null && (kind === "hold" ? ", released" : ", ended")}: {reason}
            {kind === "hold" && `, ${person}`}
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
    round.braked > 0 ? `${round.braked} stops held for a person` : "",
    round.sent > 0
      ? `${round.mode === "rehearse" ? "would send" : "sent"} ${round.sent} ${round.sent === 1 ? "action" : "actions"}`
      : round.tried > 0
        ? `tried ${round.tried} ${round.tried === 1 ? "action" : "actions"}`
        : "",
    round.again > 0 ? `${round.again} of them again` : "",
    round.tried > round.sent && round.mode === "act" ? `${round.tried - round.sent} not accepted` : "",
    round.waiting > 0 ? `${round.waiting} waiting` : "",
    unread.length > 0 ? `nothing done in ${unread.join(", ")}` : "",
  ].filter(Boolean);
  return parts.length > 0 ? parts.join(", ") : `nothing to do for ${round.resources}`;
}

function RoundLine({ round, zone }: { round: Round; zone: string }) {
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
      <td className="whitespace-nowrap pr-3">{dayAndTime(round.at, zone)}</td>
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

function QuietLine({ entry, zone }: { entry: Extract<JournalEntry, { kind: "quiet" }>; zone: string }) {
  return (
    <tr className="h-[30px] border-lines border-b text-soft">
      <td className="pr-3">
        <AtLink href={`/rounds/${entry.last.id}`} className="underline decoration-lines underline-offset-4">
          {entry.count} rounds
        </AtLink>
      </td>
      <td className="whitespace-nowrap pr-3">
        {dayAndTime(entry.first.at, zone)} to {clockTime(entry.last.at, zone)}
      </td>
      <td className="pr-3">{entry.last.askedBy}</td>
      <td>nothing to do for {entry.last.resources}</td>
    </tr>
  );
}

/** How many idle alarms have tripped: those that are off by them, and those that run on until a person has spoken. */
function TripsLine({ of, held }: RoundsProps["trips"]) {
  const off = of - held;
  return (
    <p>
      {off > 0 && (
        <>
          <b>{off}</b> {off === 1 ? "is" : "are"} off by idle alarms
        </>
      )}
      {off > 0 && held > 0 && "; "}
      {held > 0 && (
        <>
          <b className="text-attention">{held}</b> tripped and {held === 1 ? "runs" : "run"} on:{" "}
          {held === 1 ? "its stop is" : "their stops are"} held
        </>
      )}
      ; each fleet and each machine says which.
    </p>
  );
}
