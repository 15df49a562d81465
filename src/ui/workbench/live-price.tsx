import type { Amount, MoneyView } from "@/core/pricing";
import { monthlyOf, type Projection } from "@/core/projection";
import { money } from "../ledger/money";

export type LivePriceProps = {
  projection: Projection | null;
  /** With what is being painted, while the mouse is down. */
  tentative: Projection | null;
  currency: string;
  view: MoneyView;
};

/** What the week on the wall costs a month, in the mean of twelve; it follows the mouse while painting. */
export function LivePrice({ projection, tentative, currency, view }: LivePriceProps) {
  const now = projection && costOf(projection, view);
  if (now === null) return <p className="min-h-5 text-[13px] text-soft">Reading what these machines cost…</p>;
  const then = tentative && costOf(tentative, view);
  const difference = then === null ? 0n : then - now;
  return (
    <p className="min-h-5 text-[13px]" data-testid="live-price">
      As painted <b>{money(then ?? now)}</b> {currency} a month
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

function costOf({ steps }: Projection, view: MoneyView): Amount | null {
  const last = steps.at(-1);
  return last ? monthlyOf(last.after, "mean", view) : null;
}
