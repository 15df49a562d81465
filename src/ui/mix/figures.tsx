import type { Simulated } from "@/browser/mix";
import type { Figure, MixFigures } from "@/core/mix";

export type FiguresProps = Readonly<{
  simulated: Simulated;
  currency: string;
  floor: number;
  /** Whole weeks in which the prices of its pools were seen; null where all is at full price. */
  priceWeeks: number | null;
  /** The same of the mix in force, where the draft is another. */
  inForce?: MixFigures | null;
}>;

/** What the coming week costs, saves and risks, each with the span that nine of ten trials lie in. */
export function Figures({ simulated, currency, floor, priceWeeks, inForce = null }: FiguresProps) {
  const { figures, trials, isDone } = simulated;
  const money = (value: number) => value.toFixed(2);
  const hours = (value: number) => value.toFixed(1);
  return (
    <div>
      <dl className="grid grid-cols-2 gap-x-6 gap-y-1 sm:grid-cols-4">
        <One name={`cost, ${currency} a week`} figure={figures.cost} beside={inForce?.cost} show={money} />
        <One name={`below full price, ${currency} a week`} figure={figures.saving} beside={inForce?.saving} show={money} />
        <One name="missing unit-hours" figure={figures.missingUnitHours} beside={inForce?.missingUnitHours} show={hours} />
        <One name="evictions" figure={figures.evictions} beside={inForce?.evictions} show={hours} />
        <One
          name="longest shortfall, hours"
          figure={figures.longestShortfallHours}
          beside={inForce?.longestShortfallHours}
          show={hours}
        />
        <One name="minutes to refill" figure={figures.refillMinutes} beside={inForce?.refillMinutes} show={hours} />
        <One name="full price stood in, unit-hours" figure={figures.fallbackHours} beside={inForce?.fallbackHours} show={hours} />
        <div>
          <dt className="text-[13px] text-soft">at least {floor} units</dt>
          <dd className="tabular-nums">
            <b>{(100 * figures.atLeastFloor).toFixed(1)} %</b> of the time;{" "}
            <span className="whitespace-nowrap">all week in {(100 * figures.alwaysAtLeastFloor).toFixed(0)} %</span>
            {inForce && (
              <span className="block text-[13px] text-attention">in force {(100 * inForce.atLeastFloor).toFixed(1)} %</span>
            )}
          </dd>
        </div>
      </dl>
      <p role="status" className="text-[12px] text-soft" data-testid="trials">
        {trials} trials{isDone ? "" : ", going on"}; the spans hold nine of ten{priceWords(priceWeeks)}
      </p>
    </div>
  );
}

function priceWords(weeks: number | null): string {
  if (weeks === null) return "";
  if (weeks === 0) return "; prices stay as they are: less than a week of them is known";
  return weeks === 1 ? "; prices are those of the week before" : `; prices are drawn from the ${weeks} weeks before`;
}

type OneProps = { name: string; figure: Figure | null; beside: Figure | null | undefined; show: (value: number) => string };

function One({ name, figure, beside, show }: OneProps) {
  return (
    <div>
      <dt className="text-[13px] text-soft">{name}</dt>
      <dd className="whitespace-nowrap tabular-nums">
        {figure ? (
          <>
            <b>{show(figure.mean)}</b>{" "}
            <span className="text-[13px] text-soft">
              {show(figure.p5)} to {show(figure.p95)}
            </span>
          </>
        ) : (
          "nothing was replaced"
        )}
        {beside && <span className="block text-[13px] text-attention">in force {show(beside.mean)}</span>}
      </dd>
    </div>
  );
}
