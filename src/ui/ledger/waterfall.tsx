import { leverWords } from "@/core/levers";
import { type Amount, centsOf, formatCents, type Micros, type MoneyView } from "@/core/pricing";
import { type LeverKind, monthlyOf, type Percentile, type Projection, type Spread, stepsFrom } from "@/core/projection";
import { viewWords } from "../money/view";
import { money, share } from "./money";
import type { Chosen } from "./months";

/** A lever as a row begins with it. */
function titleOf(kind: LeverKind): string {
  const words = leverWords([kind]);
  return words.charAt(0).toUpperCase() + words.slice(1);
}

export type WaterfallProps = { projection: Projection; month: Chosen; view: MoneyView; currency: string };

/** From what it would cost always on, by what really ran, down a step for each lever. What is shown adds up in cents. */
export function Waterfall({ projection, month, view, currency }: WaterfallProps) {
  const { alwaysOn, asItRan } = projection;
  const baseline = asItRan ?? alwaysOn;
  const [full, start] = [monthlyOf(alwaysOn, month, view), monthlyOf(baseline, month, view)];
  const steps = stepsFrom(projection, baseline, { month, view });
  const left = steps.at(-1)?.after ?? start;
  const gross = stepsFrom(projection, baseline, { month, view: "before" });
  const coveredAnyway = sumOf(gross.map(({ saves }) => saves)) - sumOf(steps.map(({ saves }) => saves));
  const most = [full, start, ...steps.map(({ after }) => after)].reduce((a, b) => (a > b ? a : b), 1n as Amount);
  const width = (amount: bigint) => `${Number((amount * 1000n) / most) / 10}%`;
  const line = (label: string, text: string, bar: Readonly<{ from: bigint; to: bigint; look: string }>) => (
    <tr className="h-[26px]" key={label}>
      <th scope="row" className="whitespace-nowrap pr-2 text-left font-normal">
        {label}
      </th>
      <td className="w-full">
        <div className="relative h-3.5">
          <div
            className={`absolute inset-y-0 rounded-[2px] ${bar.look}`}
            style={{ left: width(bar.from), width: width(bar.to - bar.from) }}
          />
        </div>
      </td>
      <td className="pl-2 text-right">{text}</td>
    </tr>
  );
  let before = start;
  return (
    <table className="w-full">
      <caption className="sr-only">
        In {currency}, {viewWords(view)}
      </caption>
      <tbody>
        {line("Always on", money(full), { from: 0n, to: full, look: "bg-lit/50 border border-lit-deep" })}
        {asItRan && line("As it ran", money(start), { from: 0n, to: start, look: "bg-lit" })}
        {steps.map(({ lever, saves, after }) => {
          const [low, high] = after < before ? [after, before] : [before, after];
          const shown = formatCents(((centsOf(before) - centsOf(after)) * 10_000n) as Micros);
          before = after;
          const label = `${titleOf(lever)} ${saves >= 0n ? "save" : "cost"}${lever === "mix" ? "s" : ""}`;
          return line(label, shown, { from: low, to: high, look: saves >= 0n ? "bg-saved" : "bg-loss" });
        })}
        {steps.length > 0 && line("With the plan", money(left), { from: 0n, to: left, look: "bg-lit border border-ink" })}
      </tbody>
      <tfoot>
        <tr>
          <td colSpan={3} className="pt-0.5 text-[13px] text-soft">
            {currency}, {viewWords(view)}
            {steps.length > 0 && shareWords({ full, start, left, hasRun: asItRan !== null })}
            {projection.steps.map(
              ({ lever, spread }) =>
                spread && (
                  <span key={lever} className="block" data-testid={`${lever}-spread`}>
                    {titleOf(lever)}: of 100 months 90 save between <b>{money(spreadOf(spread, month).p5)}</b> and{" "}
                    <b>{money(spreadOf(spread, month).p95)}</b>, half of them above {money(spreadOf(spread, month).p50)}.
                  </span>
                ),
            )}
            {view === "after" && coveredAnyway > 0n && (
              <b className="block text-loss" data-testid="covered-anyway">
                {money(coveredAnyway as Amount)} more would be saved, but a commitment has paid for it anyway.
              </b>
            )}
          </td>
        </tr>
      </tfoot>
    </table>
  );
}

type Worth = Readonly<{ full: Amount; start: Amount; left: Amount; hasRun: boolean }>;

function shareWords({ full, start, left, hasRun }: Worth): string {
  const of = (part: bigint, whole: Amount) => share(part as Amount, whole);
  if (left > start) return `. Costs ${of(left - start, start)} more than ${hasRun ? "as it ran" : "always on"}`;
  return `. Saves ${of(start - left, start)}${hasRun ? ` of that, ${of(full - left, full)} of always on` : ""}`;
}

function spreadOf({ months, mean }: Spread, month: Chosen): Percentile {
  return month === "mean" ? mean : (months[month] ?? mean);
}

function sumOf(amounts: readonly Amount[]): bigint {
  return amounts.reduce((sum, amount) => sum + amount, 0n);
}
