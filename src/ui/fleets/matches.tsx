"use client";
import Link from "next/link";
import { isGuarded } from "@/core/plan";
import type { Basis } from "@/services/cost";
import { StateBrick } from "../kit/brick";
import { useWeeks } from "../life-strip/use-weeks";
import { WeekStrip } from "../life-strip/week-strip";

const SHOWN = 200;

/** The machines a selector matches: name, where, whose, state, and why one would be left alone. */
export function Matches({ basis, isOld }: { basis: Basis | null; isOld: boolean }) {
  const weekOf = useWeeks(
    (basis?.lines ?? []).slice(0, SHOWN).map(({ resource }) => resource.id),
    null,
  );
  if (!basis || basis.selectorError)
    return <p className="text-soft">The matches are listed here before anything acts on them.</p>;
  const running = basis.lines.filter(({ resource }) => resource.level > 0).length;
  return (
    <div className={isOld ? "opacity-60" : ""} aria-busy={isOld}>
      <p className="mb-1" role="status" data-testid="match-count">
        <b>{basis.total}</b> match, <b>{running}</b> running
      </p>
      {basis.lines.length > 0 && (
        <div
          className="max-h-[300px] overflow-auto rounded-brick border border-lines"
          role="region"
          aria-label="Matches"
          tabIndex={0}
        >
          <table className="w-full">
            <thead className="sticky top-0 bg-paper text-left text-[13px]">
              <tr className="h-[26px] border-lines border-b">
                <th className="px-2 font-semibold">Name</th>
                <th className="px-2 font-semibold">Region</th>
                <th className="px-2 font-semibold">Owner</th>
                <th className="px-2 font-semibold">State</th>
                <th className="w-[110px] px-2 font-semibold">Last 7 days</th>
                <th className="px-2 font-semibold">Note</th>
              </tr>
            </thead>
            <tbody>
              {basis.lines.slice(0, SHOWN).map(({ resource, claimedBy }) => (
                <tr key={resource.id} className="h-[26px] border-lines border-b last:border-0">
                  <td className="px-2">
                    <Link href={`/machines/${encodeURIComponent(resource.id)}`}>{resource.name}</Link>
                  </td>
                  <td className="px-2">{resource.fields.region}</td>
                  <td className="px-2">{resource.tags.owner ?? <span className="text-soft">none</span>}</td>
                  <td className="px-2">
                    <StateBrick state={resource.state} />
                  </td>
                  <td className="px-2">
                    <WeekStrip week={weekOf(resource.id)} />
                  </td>
                  <td className="px-2 text-soft">
                    {isGuarded(resource) ? "guarded, never touched" : claimedBy ? `belongs to ${claimedBy}` : ""}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {basis.total > SHOWN && (
        <p className="text-[13px] text-soft">
          The first {SHOWN} of {basis.total} are listed; all of them count.
        </p>
      )}
    </div>
  );
}
