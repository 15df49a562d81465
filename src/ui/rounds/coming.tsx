import { ON } from "@/core/hours";
import type { ComingEdge } from "@/services/rounds";
import { AtLink } from "../as-of/at-link";
import { clockTime, dayAndTime, placeOf } from "../kit/when";

/** Every edge of the coming week, day by day: when, of whom, how many, and what stands in its way. */
export function Coming({ edges, zone, now }: { edges: readonly ComingEdge[]; zone: string; now: number }) {
  if (edges.length === 0)
    return (
      <p className="text-soft">
        No fleet in force changes its level in the coming week. Put hours in force, and the starts and stops are listed here.
      </p>
    );
  const days = new Map<string, ComingEdge[]>();
  for (const edge of edges) {
    const day = dayAndTime(edge.at, zone, now).replace(/ \d\d:\d\d$/, "");
    days.set(day, [...(days.get(day) ?? []), edge]);
  }
  return (
    <div className="flex flex-col gap-1">
      <p className="text-[13px] text-soft">In {placeOf(zone)} time.</p>
      {[...days].map(([day, list], i) => (
        <details key={day} open={i < 2}>
          <summary className="cursor-pointer border-lines border-b py-0.5">
            <b>{day}</b> <span className="text-soft">{totals(list)}</span>
          </summary>
          <table className="w-full">
            <tbody>
              {list.map((edge) => (
                <EdgeRow key={`${edge.at} ${edge.fleet} ${edge.zone} ${edge.fallsAway}`} edge={edge} zone={zone} />
              ))}
            </tbody>
          </table>
        </details>
      ))}
    </div>
  );
}

function EdgeRow({ edge, zone }: { edge: ComingEdge; zone: string }) {
  const { at, fleet, fleetId, to, machines, held, unforeseen, because, fallsAway } = edge;
  return (
    <tr className="h-[30px] border-lines border-b">
      <td className="w-[52px] whitespace-nowrap tabular-nums">{clockTime(at, zone)}</td>
      <td className="w-[150px] max-w-[150px] truncate pr-3">
        <AtLink href={`/fleets/${fleetId}`}>{fleet}</AtLink>
      </td>
      <td className="pr-2">
        <span
          aria-hidden
          className={`mr-1.5 inline-block size-2.5 rounded-[2px] ${fallsAway ? "border border-lines" : to === 0 ? "bg-shade-deep" : "bg-lit"}`}
        />
        <span className={fallsAway ? "text-soft line-through" : ""}>
          {machines} {to === null ? "left as they are" : to === 0 ? "off" : isOn(to) ? "on" : `to level ${to}`}
        </span>
        {fallsAway && <span className="text-soft"> not on this day: a holiday</span>}
        {held > 0 && <span className="text-soft">, {held} held as they are</span>}
        {unforeseen > 0 && <span className="font-semibold text-loss">, {unforeseen} will be held: too young to be foreseen</span>}
      </td>
      <td className="max-w-[110px] truncate text-right text-[13px] text-soft" title={because}>
        {because}
      </td>
    </tr>
  );
}

function isOn(to: number | null): boolean {
  return to === 1 || to === ON;
}

function totals(edges: readonly ComingEdge[]): string {
  const sum = (test: (edge: ComingEdge) => boolean) =>
    edges.filter((edge) => !edge.fallsAway && test(edge)).reduce((n, { machines }) => n + machines, 0);
  const off = sum(({ to }) => to === 0);
  const on = sum(({ to }) => isOn(to));
  if (edges.every(({ fallsAway }) => fallsAway)) return "nothing: a holiday";
  const other = sum(({ to }) => to !== null && to > 0 && !isOn(to));
  return [on > 0 ? `${on} on` : "", off > 0 ? `${off} off` : "", other > 0 ? `${other} to another level` : ""]
    .filter(Boolean)
    .join(", ");
}
