import Link from "next/link";
import type { BurnPage, BurnQuery } from "@/services/cost";
import { burnAddress } from "./address";

export type SpotLineProps = { spot: NonNullable<BurnPage["spot"]>; currency: string; query: BurnQuery };

/** What runs at spot price, and what the same would cost at full price. */
export function SpotLine({ spot, currency, query }: SpotLineProps) {
  const { count, perHour, fullPerHour, less } = spot;
  return (
    <p data-testid="spot">
      <Link
        href={burnAddress({ ...query, filters: ["purchase = spot"], group: "none", opened: [] })}
        className="font-semibold underline decoration-lit-deep decoration-2 underline-offset-4"
      >
        {count} of what is shown at spot price
      </Link>
      : {perHour} {currency} an hour, {fullPerHour} at full price
      {less === null ? "." : <b className="text-saved">, {less} less.</b>}
    </p>
  );
}
