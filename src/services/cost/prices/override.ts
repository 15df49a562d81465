import { tryParseHourRate } from "@/core/pricing";
import { DAY_S, tryParseDate } from "@/core/time";
import { overridePrices, priceBooks } from "@/store";
import { type Actor, authorise, ESTATE, type FieldIssue, RefusedError, type Services } from "../../admin";
import { changeFrom } from "./change-from";
import { lastSaid } from "./view";

export type PriceOverride = Readonly<{
  key: string;
  /** A decimal; null goes back to what the provider says. */
  rate: string | null;
  /** The first UTC day it counts. */
  fromDay: string;
}>;

/** Sets a rate by hand from a day on, or ends that. Days that are reckoned already and that it changes are reckoned anew. */
export async function overridePrice(services: Services, actor: Actor, { key, rate, fromDay }: PriceOverride): Promise<void> {
  authorise(actor, "set prices", ESTATE);
  const fields: FieldIssue[] = [];
  if (rate !== null && tryParseHourRate(rate) === null)
    fields.push({ path: "rate", message: `"${rate}": expected a decimal from 0 with at most nine decimals` });
  const day = tryParseDate(fromDay);
  if (day === null) fields.push({ path: "fromDay", message: `"${fromDay}": expected a date such as 2027-03-01` });
  const known = lastSaid(await priceBooks(services.pool), key);
  if (fields.length > 0 || day === null) throw new RefusedError("invalid", fields[0]?.message ?? "", fields);
  if (!known) throw new RefusedError("not_found", "There is no such line in the price book.");
  const what = [known.item, known.size, known.region].filter(Boolean).join(" ");
  await changeFrom(services, actor, {
    day: fromDay,
    cause: rate === null ? `price of ${what} as the provider says again` : `price of ${what} set to ${rate}`,
    make: (tx) => overridePrices(tx, [{ ...known, rate, validFrom: day * DAY_S, source: "hand", person: actor.name }]),
  });
}
