import type { Amount } from "@/core/pricing";
import type { HoursProjection } from "@/core/projection";
import { money } from "../ledger/reckon";

export type LivePriceProps = {
  projection: HoursProjection | null;
  /** With what is being painted, while the mouse is down. */
  tentative: HoursProjection | null;
  currency: string;
};

/** What the week on the wall costs a month; it follows the mouse while painting. */
export function LivePrice({ projection, tentative, currency }: LivePriceProps) {
  if (!projection) return <p className="min-h-5 text-[13px] text-soft">Reading what these machines cost…</p>;
  const shown = tentative ?? projection;
  const difference = tentative ? ((tentative.projected - projection.projected) as Amount) : (0n as Amount);
  return (
    <p className="min-h-5 text-[13px]" data-testid="live-price">
      As painted <b>{money(shown.projected)}</b> {currency} a month
      {difference !== 0n && (
        <>
          {", "}
          <span className={difference < 0n ? "text-saved" : "text-loss"}>
            {difference > 0n ? "+" : "−"}
            {money((difference < 0n ? -difference : difference) as Amount)} with this stroke
          </span>
        </>
      )}
    </p>
  );
}
