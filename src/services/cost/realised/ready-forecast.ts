import { spreadOfDays } from "@/core/levers";
import { isGuarded } from "@/core/plan";
import type { Percentile } from "@/core/projection";
import { LIKELY_STEP_S, likelyUnits } from "@/core/ready";
import type { DueStretch } from "@/core/realised";
import { DAY_S, weekdayIndex } from "@/core/time";
import { likelyUseList } from "@/store";
import type { Services } from "../../admin";
import { likelyTerms } from "../../inventory";
import type { Member, RealisedInput } from "./day";
import { offRateOf } from "./idle-forecast";

const WEEKDAYS = 7;

type Pool = Readonly<{ fleet: string; own: readonly Readonly<{ member: Member; due: readonly DueStretch[] }>[] }>;

/**
 * What a pool's people were expected to save on a day beside its hours, below 0 what they cost: as many machines on as the plan would
 * have wanted for those who were there in the weeks before, as that was known when the day began. Null where nothing was known of them,
 * or the fleet is no pool.
 */
export async function readyForecastOf(
  services: Services,
  input: RealisedInput,
  { fleet, own }: Pool,
): Promise<Percentile | null> {
  const plan = own[0]?.member.claim.plan;
  if (!plan?.pooled) return null;
  const use = (await likelyUseList(services.pool, input.from)).get(fleet)?.inUse ?? null;
  const machines = own.flatMap(({ member: { resource } }) => (isGuarded(resource) ? [] : [resource]));
  const terms = likelyTerms(plan, machines, input.snapshot);
  if (!use || !terms) return null;
  const rates = own.reduce((sum, { member }) => sum + offRateOf(member, input, member.claim.ownSize), 0n);
  const onByHours = own.reduce((sum, { due }) => sum + due.reduce((on, one) => on + (one.level ? one.to - one.from : 0), 0), 0);
  const weekday = weekdayIndex(input.from / DAY_S);
  const count = DAY_S / LIKELY_STEP_S;
  const days = use.flatMap((week) =>
    Array.from({ length: WEEKDAYS }, (_, i) => {
      const from = input.from + (i - weekday) * DAY_S;
      // A day of which only a part is known says nothing of the rest.
      const isKnown = week.slice(i * count, (i + 1) * count).every((people) => people !== null);
      const on = isKnown ? likelyUnits([week], terms, { from, count }).reduce((sum, units) => sum + units, 0) : null;
      return { weekday: i, on };
    }),
  );
  const known = days.flatMap(({ weekday: one, on }) => {
    if (on === null) return [];
    const more = BigInt(Math.round(on * LIKELY_STEP_S - onByHours));
    return [{ weekday: one, saved: (-more * rates) / BigInt(own.length) }];
  });
  return spreadOfDays(known, weekday);
}
