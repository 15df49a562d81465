import type { FleetSummary } from "@/services";
import { AtLink } from "../as-of/at-link";
import { ButtonLink } from "../kit/button-link";

/** The fleets in rank order: whom each matches, its hours, and whether its plan is in force. */
export function FleetList({ fleets }: { fleets: readonly FleetSummary[] }) {
  return (
    <div className="px-4 py-3">
      <div className="mb-3 flex items-center justify-between">
        <h1 className="font-medium text-[20px] leading-7">{sentence(fleets)}</h1>
        <div className="flex items-center gap-4">
          <AtLink href="/schedules">Schedules</AtLink>
          <ButtonLink href="/fleets/new">New fleet</ButtonLink>
        </div>
      </div>
      {fleets.length > 0 && (
        <table className="w-full">
          <thead>
            <tr className="h-[30px] border-lines border-b text-left text-[13px]">
              <th className="w-12 pr-3 text-right font-semibold">Rank</th>
              <th className="pr-3 font-semibold">Fleet</th>
              <th className="pr-3 font-semibold">Who</th>
              <th className="pr-3 font-semibold">Hours</th>
              <th className="pr-3 text-right font-semibold">Matches</th>
              <th className="pr-3 text-right font-semibold">Running</th>
              <th className="font-semibold">Plan</th>
            </tr>
          </thead>
          <tbody>
            {fleets.map((fleet, i) => (
              <tr key={fleet.id} className="h-[30px] border-lines border-b hover:bg-raised">
                <td className="pr-3 text-right text-soft">{i + 1}</td>
                <td className="pr-3">
                  <AtLink
                    href={`/fleets/${fleet.id}`}
                    className="font-semibold underline decoration-lines decoration-2 underline-offset-4 hover:decoration-lit-deep"
                  >
                    {fleet.name}
                  </AtLink>
                </td>
                <td className="max-w-[420px] truncate pr-3" title={fleet.select}>
                  {fleet.selectorError ? (
                    <span className="text-loss">{fleet.selectorError}</span>
                  ) : (
                    <code className="font-sans">{fleet.select}</code>
                  )}
                </td>
                <td className="pr-3">{fleet.hours || <span className="text-soft">none</span>}</td>
                <td
                  className="pr-3 text-right"
                  title={fleet.claimedByOthers > 0 ? `${fleet.claimedByOthers} belong to a fleet above` : undefined}
                >
                  {fleet.matches}
                  {fleet.claimedByOthers > 0 && <span className="text-soft"> (−{fleet.claimedByOthers})</span>}
                </td>
                <td className="pr-3 text-right">{fleet.running}</td>
                <td>{planWord(fleet)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}

function sentence(fleets: readonly FleetSummary[]): string {
  if (fleets.length === 0)
    return "No fleet yet. Say by tags which machines belong together; nothing happens to them until a plan is put in force.";
  const inForce = fleets.filter(({ isInForce }) => isInForce).length;
  return `${fleets.length} fleets, ${inForce} with a plan in force.`;
}

function planWord({ isInForce, hasChanges }: FleetSummary) {
  if (!isInForce) return <span className="text-soft">draft</span>;
  return hasChanges ? "in force, draft differs" : "in force";
}
