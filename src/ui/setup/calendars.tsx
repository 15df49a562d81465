import Link from "next/link";
import type { CalendarSummary } from "@/services/plans";

/** The calendars, what each rests on, and who goes by it. */
export function Calendars({ calendars }: { calendars: readonly CalendarSummary[] }) {
  if (calendars.length === 0)
    return (
      <p className="text-soft">
        None yet: schedules rest on Saturday and Sunday and know no holidays. A calendar says which weekdays rest where, and which
        dates are holidays.
      </p>
    );
  return (
    <table className="w-full max-w-[860px]">
      <thead className="text-left text-[13px]">
        <tr className="h-[30px] border-lines border-b">
          <th className="pr-3 font-semibold">Calendar</th>
          <th className="pr-3 font-semibold">Rests on</th>
          <th className="pr-3 text-right font-semibold">Holidays and ranges</th>
          <th className="pr-3 font-semibold">Schedules</th>
          <th className="text-right font-semibold">Machines</th>
        </tr>
      </thead>
      <tbody>
        {calendars.map(({ name, rest, holidays, schedules, machines }) => (
          <tr key={name} className="h-[30px] border-lines border-b">
            <td className="pr-3">
              <Link
                href={`/calendars/${encodeURIComponent(name)}`}
                className="font-semibold underline decoration-lines decoration-2 underline-offset-4 hover:decoration-lit-deep"
              >
                {name}
              </Link>
            </td>
            <td className="pr-3">{rest.join(", ") || <span className="text-soft">no day</span>}</td>
            <td className="pr-3 text-right">{holidays}</td>
            <td className="pr-3">{schedules.join(", ") || <span className="text-soft">none</span>}</td>
            <td className="text-right">{machines}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
