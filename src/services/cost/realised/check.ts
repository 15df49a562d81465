import { type Amount, formatCents, microsOf } from "@/core/pricing";
import { GAP_CAUSES, type GapCause } from "@/core/realised";
import { DAY_S, formatDate, type Instant } from "@/core/time";
import { realisedDays } from "@/store";
import type { Services } from "../../admin";
import { missedBy, promisedInAll } from "./promised";

/** What a fleet's plan was projected to cost over past days, beside what the meter said. */
export type ProjectionCheck = Readonly<{
  from: string;
  to: string;
  projected: string;
  metered: string;
  /** How far off it was, in words: "2.3 % more". */
  errorPercent: string;
  /** In per cent of what was projected, the largest first. */
  causes: readonly Readonly<{ cause: GapCause | "price changes"; percent: string }>[];
}>;

/** Over the month before that of `now`; over this month's days where its plan is younger. Null while no day is measured. */
export async function projectionCheck({ pool }: Services, fleet: string, now: Instant): Promise<ProjectionCheck | null> {
  const date = new Date(now * 1000);
  const start = (back: number) => Date.UTC(date.getUTCFullYear(), date.getUTCMonth() - back, 1) / 1000;
  const days = (await realisedDays(pool, { from: formatDate(start(1) / DAY_S), to: formatDate(Math.floor(now / DAY_S)) })).filter(
    (one) => one.fleet === fleet,
  );
  const thisMonth = formatDate(start(0) / DAY_S);
  const last = days.filter(({ day }) => day < thisMonth);
  const shown = last.length > 0 ? last : days;
  const [first, end] = [shown[0], shown.at(-1)];
  if (!first || !end) return null;
  const sum = (of: (one: (typeof shown)[number]) => bigint) => shown.reduce((total, one) => total + of(one), 0n);
  // As it was projected when the plan was put in force, at the prices of then, with what every lever was foretold to save.
  const projected = sum((one) => one.projected - one.priceEffect - promisedInAll(one));
  const paid = sum(({ paid: own }) => own);
  const percent = (amount: bigint) => (projected === 0n ? 0 : Number((amount * 10_000n) / projected) / 100);
  const words = (value: number) => `${Math.abs(value).toFixed(1)} % ${value < 0 ? "less" : "more"}`;
  const causes = [
    ...GAP_CAUSES.map((cause) => ({ cause, share: percent(sum((one) => missedBy(one, cause))) })),
    { cause: "price changes" as const, share: percent(sum((one) => one.priceEffect)) },
  ];
  return {
    from: first.day,
    to: end.day,
    projected: formatCents(microsOf(projected as Amount)),
    metered: formatCents(microsOf(paid as Amount)),
    errorPercent: words(percent(paid - projected)),
    causes: causes
      .filter(({ share }) => Math.abs(share) >= 0.05)
      .sort((a, b) => Math.abs(b.share) - Math.abs(a.share))
      .map(({ cause, share }) => ({ cause, percent: words(share) })),
  };
}
