import type { LifeRun } from "@/services/inventory";
import { AtLink } from "../as-of/at-link";
import { StateBrick } from "../kit/brick";
import { durationWords } from "../kit/duration-words";
import { clockTime, dayAndTime, placeOf } from "../kit/when";

export type RunsProps = { runs: readonly LifeRun[]; isMany: boolean; zone: string; now: number };

/** What ran, a line for each run: from when to when, and who or what began and ended it. */
export function Runs({ runs, isMany, zone, now }: RunsProps) {
  if (runs.length === 0) return <p className="text-soft">It has not run since it was first seen.</p>;
  return (
    <table className="w-full">
      <thead className="text-left text-[13px]">
        <tr className="h-[26px] border-lines border-b">
          <th className="pr-3 font-semibold">Ran, {placeOf(zone)}</th>
          <th className="pr-3 text-right font-semibold">For</th>
          <th className="pr-3 font-semibold">Started</th>
          <th className="font-semibold">Ended</th>
        </tr>
      </thead>
      <tbody>
        {runs.map((run) => (
          <tr key={`${run.from} ${run.to}`} className="border-lines border-b align-top">
            <td className="whitespace-nowrap py-1 pr-3">
              {run.from === null ? "since before it was seen" : dayAndTime(run.from, zone, now)}
              {run.to !== null && ` – ${endWords(run.from, run.to, { zone, now })}`}
              {isMany && <span className="text-soft">, level {run.level}</span>}
            </td>
            <td className="whitespace-nowrap py-1 pr-3 text-right">
              {run.from === null ? "" : durationWords((run.to ?? now) - run.from)}
            </td>
            <td className="py-1 pr-3">
              <CauseWords cause={run.began} />
            </td>
            <td className="py-1">
              {run.endState === null ? <StateBrick state="running" /> : <CauseWords cause={run.ended} />}
              {run.endState !== null && run.endState !== "stopped" && <span className="text-soft"> ({run.endState})</span>}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** The hour alone where it ended on the day on which it began. */
function endWords(from: number | null, to: number, { zone, now }: { zone: string; now: number }): string {
  const whole = dayAndTime(to, zone, now);
  if (from === null) return whole;
  const hour = clockTime(to, zone);
  return dayAndTime(from, zone, now).slice(0, -5) === whole.slice(0, -5) ? hour : whole;
}

function CauseWords({ cause }: { cause: LifeRun["began"] }) {
  if (!cause) return <span className="text-soft">not known</span>;
  const { action, told } = cause;
  if (!action) return <>by somebody, not by a round: {told}</>;
  return (
    <>
      {action.why}{" "}
      <span className="whitespace-nowrap text-soft">
        {action.askedBy}, <AtLink href={`/rounds/${action.roundId}`}>round {action.roundId}</AtLink>
      </span>
    </>
  );
}
