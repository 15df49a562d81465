import type { OpenMachine } from "@/services/inventory";
import { AtLink } from "../as-of/at-link";
import { StateBrick } from "../kit/brick";
import { dayTimePlace } from "../kit/when";
import { actionWords, tookWords } from "../rounds/words";

type HappenedProps = Pick<OpenMachine, "resource" | "changes" | "actions" | "zone" | "now">;

/** What its provider told of it and what was asked for it, by time, the last first: who, which round, why, and what came of it. */
export function Happened({ resource, changes, actions, zone, now }: HappenedProps) {
  const lines = [
    ...changes.map((change) => ({ at: change.at, key: `change ${change.n} ${change.type}`, change, action: null })),
    ...actions.map((action) => ({ at: action.recordedAt, key: `action ${action.id}`, change: null, action })),
  ].sort((a, b) => b.at - a.at || (a.change ? -1 : 1));
  if (lines.length === 0) return <p className="text-soft">Its provider has told of no change yet.</p>;
  return (
    <>
      <table className="w-full">
        <tbody>
          {lines.map(({ at, key, change, action }) => (
            <tr key={key} className="h-[26px] border-lines border-b align-top">
              <td className="w-px whitespace-nowrap py-0.5 pr-3">{dayTimePlace(at, zone, now)}</td>
              <td className="w-px whitespace-nowrap py-0.5 pr-3">
                {change ? <StateBrick state={change.state} /> : <b>{action && actionWords(action)}</b>}
              </td>
              <td className="py-0.5 text-soft">
                {change && (
                  <>
                    {change.type}
                    {resource.kind !== "machine" && `, level ${change.level}`}
                    {change.note && `, ${change.note}`}
                  </>
                )}
                {action && (
                  <>
                    {action.why}; asked by {action.askedBy} in{" "}
                    <AtLink href={`/rounds/${action.roundId}`}>round {action.roundId}</AtLink>:{" "}
                    <span className={action.status === "done" || action.status === "sent" ? "" : "text-loss"}>
                      {action.status}
                      {tookWords(action)}
                      {action.status !== "done" && action.lastAnswer && `, ${action.lastAnswer}`}
                    </span>
                  </>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-1">
        <AtLink href={`/rounds?search=${encodeURIComponent(resource.name)}`}>all that was asked for it</AtLink>
      </p>
    </>
  );
}
