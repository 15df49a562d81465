import { LOCAL } from "@/core/hours";
import type { ScheduleSummary, Schedules as Shown } from "@/services/plans";
import { AtLink } from "../as-of/at-link";
import { levelWord } from "../kit/level-word";
import { RemoveButton } from "../kit/remove-button";
import { dayTimePlace, placeOf } from "../kit/when";
import { FeedAddress } from "./feed-address";

/** Every schedule: its hours as a line, who follows it, when it changes next, and its calendar to subscribe to. */
export function Schedules({ schedules, now }: Shown) {
  const unused = schedules.filter(({ followers, drafts }) => followers.length + drafts.length === 0).length;
  return (
    <div className="px-4 py-3">
      <p className="text-[13px]">
        <AtLink href="/fleets">Fleets</AtLink>
      </p>
      <h1 className="mb-3 font-medium text-[20px] leading-7">
        {schedules.length} {schedules.length === 1 ? "schedule" : "schedules"}
        {unused > 0
          ? `, ${unused} that nobody uses.`
          : schedules.length > 0
            ? ", each of them used."
            : ". A fleet's Hours makes the first."}
      </h1>
      {schedules.length > 0 && (
        <table className="w-full">
          <thead>
            <tr className="h-[30px] border-lines border-b text-left text-[13px]">
              <th className="pr-3 font-semibold">Schedule</th>
              <th className="pr-3 font-semibold">Zone, calendar</th>
              <th className="pr-3 font-semibold">Hours, as a line</th>
              <th className="pr-3 font-semibold">Used by</th>
              <th className="pr-3 font-semibold">Next edge</th>
              <th className="font-semibold">Calendar to subscribe to</th>
            </tr>
          </thead>
          <tbody>
            {schedules.map((schedule) => (
              <tr key={schedule.name} className="border-lines border-b align-top">
                <th scope="row" className="py-1.5 pr-3 text-left font-semibold">
                  {schedule.name}
                </th>
                <td className="py-1.5 pr-3">
                  {schedule.zone === LOCAL ? "each machine's own" : placeOf(schedule.zone)},{" "}
                  {schedule.calendar ?? <span className="text-soft">no calendar</span>}
                </td>
                <td className="max-w-[330px] py-1.5 pr-3">
                  {schedule.line !== null ? (
                    <code className="font-sans">{schedule.line}</code>
                  ) : (
                    <span className="text-soft">no line can say it: {schedule.whyNoLine}</span>
                  )}
                </td>
                <td className="py-1.5 pr-3">
                  <UsedBy schedule={schedule} />
                </td>
                <td className="whitespace-nowrap py-1.5 pr-3">
                  {schedule.next
                    ? `${dayTimePlace(schedule.next.at, schedule.zone, now)}, ${levelWord(schedule.next.to)}`
                    : schedule.zone === LOCAL
                      ? "in each zone its own"
                      : "none in five years"}
                </td>
                <td className="py-1.5">
                  {schedule.zone === LOCAL ? (
                    <span className="text-soft">once it has a zone of its own</span>
                  ) : (
                    <FeedAddress name={schedule.name} />
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}

function UsedBy({ schedule: { name, followers, drafts } }: { schedule: ScheduleSummary }) {
  if (followers.length + drafts.length === 0) {
    return (
      <span className="flex items-center gap-2">
        <span>
          <span aria-hidden>△ </span>nobody
        </span>
        <RemoveButton name={name} path={`/api/schedules/${encodeURIComponent(name)}`} />
      </span>
    );
  }
  return (
    <>
      {followers.map(({ fleet, fleetId, machines }) => (
        <div key={fleetId}>
          <AtLink href={`/fleets/${fleetId}`}>{fleet}</AtLink> <span className="text-soft">{machines}</span>
        </div>
      ))}
      {drafts.length > 0 && <span className="text-soft">draft of {drafts.join(", ")}</span>}
    </>
  );
}
