import Link from "next/link";
import { type DueEdge, reasonWords } from "@/core/rounds";
import { formatInstant, type Instant, offsetAt } from "@/core/time";
import { levelWord } from "../kit/level-word";
import { clockTime, dayTimePlace, placeOf } from "../kit/when";

export type EdgesProps = { edges: readonly DueEdge[]; id: string; zone: string; ownZone: string; now: Instant };

/** When what is due changes next; each can be asked about. A stretch that a clock change made longer or shorter says so. */
export function Edges({ edges, id, zone, ownZone, now }: EdgesProps) {
  if (edges.length === 0) return <p className="text-soft">What is due does not change in the next five years.</p>;
  return (
    <ol>
      {edges.map(({ at, to, decidedBy, because, clockChangeS }) => (
        <li key={at} className="border-lines border-b py-1">
          <Link href={`/machines/${encodeURIComponent(id)}?at=${formatInstant(at)}`}>{dayTimePlace(at, zone, now)}</Link>
          {offsetAt(ownZone, at) !== offsetAt(zone, at) && (
            <span className="text-soft">
              , {clockTime(at, ownZone)} {placeOf(ownZone)}
            </span>
          )}
          : <b>{levelWord(to)}</b>{" "}
          <span className="text-[13px] text-soft">
            {decidedBy === "hours" ? reasonWords(because) : `${decidedBy}: ${reasonWords(because)}`}
          </span>
          {clockChangeS !== 0 && (
            <p className="text-[13px] text-attention">
              <span aria-hidden>◷ </span>
              {clockChangeS > 0 ? "The clock goes back" : "The clock goes forward"} before this edge:{" "}
              {Math.abs(clockChangeS) / 3600} h {clockChangeS > 0 ? "gained" : "lost"}.
            </p>
          )}
        </li>
      ))}
    </ol>
  );
}
