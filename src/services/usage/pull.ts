import { DAY_S, dayNumber, formatDate, type Instant, utcDate } from "@/core/time";
import type { Meter, MeterLine } from "@/provider";
import { type Account, accountList, firstChangeAt, meterDaysRead, saveMeterDay, signal, type UsageLine } from "@/store";
import { type Actor, authorise, ESTATE, type Services } from "../admin";

/** A meter tells of at most so many days back. */
const BACK_DAYS = 28;

const CATEGORIES: Record<string, string> = {
  compute: "Compute",
  licence: "Compute",
  disk: "Storage",
  image: "Storage",
  address: "Networking",
};

/** Stores the metered lines of the UTC days that are over and not stored yet, account by account, oldest first. Safe to repeat. */
export async function pullUsage(services: Services, actor: Actor, stopping?: AbortSignal): Promise<{ days: number }> {
  authorise(actor, "work", ESTATE);
  const { pool } = services;
  const [{ now }, first] = await Promise.all([services.clock.read(), firstChangeAt(pool)]);
  if (first === null) return { days: 0 };
  const today = Math.floor(now / DAY_S);
  const from = Math.max(dayNumber(utcDate(first)), today - BACK_DAYS);
  let days = 0;
  for (const account of await accountList(pool)) {
    const { meter } = services.provider(account);
    // One without a meter has no lines to be held to.
    if (!meter) continue;
    const read = await meterDaysRead(pool, account.name);
    for (let day = from; day < today; day++) {
      if (stopping?.aborted) return { days };
      if (read.has(formatDate(day))) continue;
      await pullDay(services, meter, { account, day: day * DAY_S });
      days++;
    }
  }
  if (days > 0) await signal(pool, "spend");
  return { days };
}

async function pullDay(
  { pool }: Services,
  meter: Meter,
  { account, day }: Readonly<{ account: Account; day: Instant }>,
): Promise<void> {
  const lines = await meter.usageDay(day);
  const currency = account.capabilities?.currency ?? "EUR";
  await saveMeterDay(pool, {
    account: account.name,
    day: utcDate(day),
    lines: lines.map((line) => lineOf(line, { account, currency })),
  });
}

function lineOf(line: MeterLine, { account, currency }: { account: Account; currency: string }): UsageLine {
  return {
    mark: line.id,
    day: utcDate(line.from),
    from: line.from,
    to: line.to,
    account: account.name,
    resourceId: line.resourceId,
    resourceType: "",
    region: line.region,
    serviceCategory: CATEGORIES[line.item] ?? "Other",
    chargeCategory: "Usage",
    description: line.item,
    quantity: line.quantity,
    unit: line.unit,
    rate: line.rate,
    billed: line.cost,
    effective: null,
    list: null,
    currency,
    tags: "",
    rest: JSON.stringify({ ProviderName: account.provider }),
  };
}
