import Link from "next/link";
import type { BurnPage, BurnQuery } from "@/services";
import { burnAddress } from "./address";

const FIRST_VISIT: BurnQuery = {
  filter: "",
  group: "none",
  sort: "perHour",
  isDescending: true,
  only: "all",
  opened: [],
  offset: 0,
  limit: 200,
};

/** The state of things in one sentence; each number leads to its rows. */
export function Sentence({ page }: { page: BurnPage }) {
  const { all, currency, monthEnd } = page;
  const end = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "long", timeZone: "UTC" }).format((monthEnd - 1) * 1000);
  if (all.count === 0) return <h1 className="font-semibold text-[20px] leading-7">Nothing runs.</h1>;
  const link = (text: string, only: BurnQuery["only"]) => (
    <Link
      href={burnAddress(FIRST_VISIT, { only })}
      className="font-bold underline decoration-lit-deep decoration-2 underline-offset-4"
    >
      {text}
    </Link>
  );
  return (
    <h1 className="font-medium text-[20px] leading-7" data-testid="sentence">
      {link(`${all.count} running`, "all")}
      {all.notDue > 0 ? (
        <>
          , {link(`${all.notDue} of them should not be`, "not due")} ({all.notDuePerHour} an hour)
        </>
      ) : (
        ", none that a plan says should be off"
      )}
      ; <b>{all.perHour}</b> {currency} an hour now; <b>{all.byMonthEnd}</b> more by {end} if nothing changes.
      {all.halted > 0 && (
        <>
          {" "}
          {link(`${all.halted} shut down from inside`, "halted")}
          {all.halted === 1 ? " is" : " are"} still there.
        </>
      )}
    </h1>
  );
}
