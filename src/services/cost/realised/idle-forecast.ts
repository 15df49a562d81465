import { hoursOver, metricsRead, slotsWithoutTrips, weeklyWorth } from "@/core/idle";
import { spreadOfDays } from "@/core/levers";
import { capabilitiesFor, onlyLowers } from "@/core/plan";
import { type Percentile, savedPerSecond } from "@/core/projection";
import { whyNoHibernation } from "@/core/rounds";
import { cardAt } from "@/core/spend";
import { DAY_S, weekdayIndex } from "@/core/time";
import { RefusedError, type Services } from "../../admin";
import { samplesOver } from "../../idle";
import { cardsOf } from "../cards";
import { BASIS_DAYS } from "./baseline";
import type { Member, RealisedInput } from "./day";

/**
 * What a fleet's idle rules were expected to save on a day: what they would have saved on the days of the four weeks before it, by the hours and prices of the day that is foretold. A rule's own effect is no evidence of it: machines that it had
 * off count as on and idle. Null without rules, or where nothing is known of those weeks.
 */
export async function idleForecastOf(
  services: Services,
  input: RealisedInput,
  own: readonly Member[],
): Promise<Percentile | null> {
  const [first] = own;
  const rules = first?.claim.plan.idle ?? [];
  if (!first || rules.length === 0) return null;
  const end = input.from;
  const basis = Array.from({ length: BASIS_DAYS }, (_, i) => end / DAY_S - BASIS_DAYS + i);
  const metrics = [...new Set(rules.flatMap(metricsRead))];
  const resources = own.map(({ resource }) => resource);
  const samples = await samplesOver(services, resources, { metrics, now: end, days: BASIS_DAYS }).catch((error: unknown) => {
    // Too many machines to be tried at once: it is not foretold, and says so by its absence.
    if (error instanceof RefusedError) return null;
    throw error;
  });
  if (!samples) return null;
  const edges = basis.map((day) => day * DAY_S).concat(end);
  const saved = basis.map(() => 0n);
  const window = { from: (basis[0] ?? 0) * DAY_S, to: end };
  own.forEach((member, i) => {
    const slots = slotsWithoutTrips(samples, i, metrics);
    const { plan, hours, ownSize } = member.claim;
    const over = hours.kind === "schedule" ? hoursOver(hours.compiled, { ...window, leadMinutes: plan.lead, ownSize }) : null;
    const { offS } = weeklyWorth(rules, { slots, hours: over, isByHand: onlyLowers(plan) }, edges);
    const rate = offRateOf(member, input, ownSize);
    offS.forEach((seconds, n) => {
      saved[n] = (saved[n] as bigint) + BigInt(Math.round(seconds)) * rate;
    });
  });
  const known = basis.flatMap((day, n) =>
    day * DAY_S >= samples.head.knownFrom ? [{ weekday: weekdayIndex(day), saved: saved[n] as bigint }] : [],
  );
  return spreadOfDays(known, weekdayIndex(end / DAY_S));
}

/** What a second off saves of a member, at the prices of the day. */
export function offRateOf(
  { resource, claim: { plan } }: Member,
  { prices, snapshot, from }: RealisedInput,
  ownSize: number,
): bigint {
  const card = cardAt(cardsOf(prices, snapshot.capabilities)(resource, from, from + 1) ?? [], from);
  const capabilities = capabilitiesFor(resource, snapshot.capabilities);
  if (!card || !capabilities) return 0n;
  const canHibernate = whyNoHibernation(resource, capabilities) === null;
  return savedPerSecond(
    card,
    { ownSize: ownSize as Parameters<typeof savedPerSecond>[1]["ownSize"], canHibernate },
    plan.offAction === "hibernate",
  );
}
