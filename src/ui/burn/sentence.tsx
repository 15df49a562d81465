import Link from "next/link";
import type { BurnPage, BurnQuery } from "@/services/cost";
import { dayTimePlace } from "../kit/when";
import { viewWords } from "../money/view";
import { burnAddress } from "./address";

export type SentenceProps = { page: BurnPage; query: BurnQuery; zone: string };

/** The state of things in one sentence; each number leads to its rows. */
export function Sentence({ page, query, zone }: SentenceProps) {
  const { all, currency, monthEnd, tense } = page;
  const end = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "long", timeZone: "UTC" }).format((monthEnd - 1) * 1000);
  const when = dayTimePlace(page.at, zone, page.now);
  if (all.count === 0) {
    const said = { now: "Nothing runs.", past: `Nothing ran at ${when}.`, ahead: `Nothing is due to run at ${when}.` };
    return <h1 className="font-semibold text-[20px] leading-7">{said[tense]}</h1>;
  }
  const link = (text: string, change: Partial<BurnQuery>) => (
    <Link
      href={burnAddress({ ...query, filters: [], group: "none", opened: [], only: "all", ...change })}
      className="font-bold underline decoration-lit-deep decoration-2 underline-offset-4"
    >
      {text}
    </Link>
  );
  const verb = tense === "now" ? "running" : tense === "past" ? "ran" : "due to run";
  return (
    <h1 className="font-medium text-[20px] leading-7" data-testid="sentence">
      {link(`${all.count} ${verb}`, {})}
      {all.notDue > 0 ? (
        <>
          , {link(`${all.notDue} of them should not ${tense === "past" ? "have been" : "be"}`, { only: "not due" })} (
          {all.notDuePerHour} an hour)
        </>
      ) : (
        ", none that a plan says should be off"
      )}
      {page.missing > 0 && (
        <>
          ,{" "}
          <b className="text-loss">
            {page.missing} more should be on and {page.missing === 1 ? "is" : "are"} not
          </b>
        </>
      )}
      ; {link(all.perHour, { sort: "perHour", isDescending: true })} {currency} an hour{" "}
      {tense === "now" ? "now" : tense === "past" ? "then" : "if plans are kept"}
      {all.month !== null && (
        <>
          ; {link(all.month, { sort: "month", isDescending: true })} this month so far, {all.byMonthEnd} by {end} if plans are
          kept
          {all.ifAsNow !== null &&
            all.ifAsNow !== all.byMonthEnd &&
            `, ${all.ifAsNow} if all goes on as ${tense === "past" ? "then" : "now"}`}
        </>
      )}
      .
      {all.halted > 0 && (
        <>
          {" "}
          {link(`${all.halted} shut down from inside`, { only: "halted" })}
          {all.halted === 1 ? " is" : " are"} still there.
        </>
      )}{" "}
      <span className="whitespace-nowrap text-[13px] text-soft">{viewWords(page.view)}</span>
    </h1>
  );
}
