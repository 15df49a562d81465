import { mixWarnings } from "@/core/mix";
import type { FleetDraft } from "@/core/plan";
import type { FirstMembers } from "@/services/mix";
import type { ForcePreview } from "@/services/plans";
import { Notice } from "../kit/notice";
import { mixWords, warningWords } from "../mix/words";

/** What rounds will do to keep a mix. */
export function MixSoon({
  preview: { mixed, firstMembers },
  mix,
}: {
  preview: ForcePreview;
  mix: NonNullable<FleetDraft["mix"]>;
}) {
  if (mixed === 0)
    return (
      <Notice kind="warning">
        Nothing in it is a group: its mix is kept for groups alone, and single machines are left as they are.
      </Notice>
    );
  if (mixed > 1)
    return (
      <Notice kind="warning">
        It has {mixed} groups, and a mix is kept for one: nothing of it is kept until each has a fleet of its own.
      </Notice>
    );
  return (
    <div className="flex flex-col gap-2" data-testid="mix-soon">
      <p>
        Rounds keep its group at {mixWords(mix)}: they ask for machines one by one, and what it has of itself goes as those come
        up.
      </p>
      {mixWarnings(mix).map((warning) => (
        <Notice key={`${warning.code} ${"pool" in warning ? warning.pool : ""}`} kind="warning">
          {warningWords(warning)}
        </Notice>
      ))}
      {firstMembers ? <FirstOrders {...firstMembers} /> : <p className="text-soft">Nothing is asked for at once.</p>}
    </div>
  );
}

/** Which members come, stay and go at once, and what that costs. */
function FirstOrders({ wanted, orders, givenBack, stays, plain, plainGoing, perHourNow, perHourThen }: FirstMembers) {
  const ordered = orders.reduce((sum, { machines }) => sum + machines, 0);
  const place = (pool: string | null, part: string) =>
    pool === null ? (part === "firm" ? "at full price, firm" : "at full price, in place of spot") : `spot, ${pool}`;
  return (
    <>
      <p className="text-[16px]">
        For {wanted} units <b>{ordered}</b> machines are asked for at once
        {stays > 0 && (
          <>
            , <b>{stays}</b> stay
          </>
        )}
        {givenBack.length > 0 && (
          <>
            , <b>{givenBack.length}</b> are given back
          </>
        )}
        {plainGoing > 0 && (
          <>
            , and <b>{plainGoing}</b> of the {plain} that the group has of itself go
          </>
        )}
        . An hour costs <b>{perHourThen.toFixed(2)}</b> then, {perHourNow.toFixed(2)} now.
      </p>
      <ul className="text-[13px]" aria-label="What is ordered">
        {orders.map(({ part, pool, machines, perHour }) => (
          <li key={`${part} ${pool}`}>
            {machines} {place(pool, part)} <span className="text-soft">{perHour.toFixed(2)} an hour</span>
          </li>
        ))}
        {givenBack.length > 0 && (
          <li>
            Given back: <span className="text-soft">{givenBack.join(", ")}</span>
          </li>
        )}
      </ul>
    </>
  );
}
