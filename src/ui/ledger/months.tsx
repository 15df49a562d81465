import type { MoneyView } from "@/core/pricing";
import { monthlyOf, type Projection } from "@/core/projection";
import { money, shownDifference } from "./money";

/** A month of the projection by its place, or the mean of all of them. */
export type Chosen = number | "mean";

export function monthName({ months }: Pick<Projection, "months">, month: number): string {
  const { name = "1970-01" } = months[month] ?? {};
  return new Intl.DateTimeFormat("en-GB", { month: "long", year: "numeric", timeZone: "UTC" }).format(
    new Date(`${name}-01T00:00:00Z`),
  );
}

export type MonthsProps = { projection: Projection; view: MoneyView; chosen: Chosen; onChoose: (month: Chosen) => void };

/** This month, the next and the mean of twelve: each with its own holidays, dated rows and clock changes. A press opens one above. */
export function Months({ projection, view, chosen, onChoose }: MonthsProps) {
  const { asItRan, alwaysOn, steps } = projection;
  const baseline = asItRan ?? alwaysOn;
  const after = steps.at(-1)?.after ?? baseline;
  const rows: readonly Readonly<{ month: Chosen; label: string }>[] = [
    { month: 0, label: monthName(projection, 0) },
    { month: 1, label: monthName(projection, 1) },
    { month: "mean", label: `mean of ${projection.months.length}` },
  ];
  return (
    <table className="mt-1 w-full text-[13px]" data-testid="months">
      <thead className="text-left text-soft">
        <tr>
          <th className="font-normal">whole months, UTC</th>
          <th className="text-right font-normal">{asItRan ? "as it ran" : "always on"}</th>
          <th className="text-right font-normal">with plan</th>
          <th className="text-right font-normal">saves</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(({ month, label }) => {
          const [before, then] = [monthlyOf(baseline, month, view), monthlyOf(after, month, view)];
          return (
            <tr key={label} className={chosen === month ? "font-semibold" : ""}>
              <th scope="row" className="text-left font-[inherit]">
                <button
                  type="button"
                  aria-pressed={chosen === month}
                  onClick={() => onChoose(month)}
                  className="underline decoration-dotted underline-offset-4"
                >
                  {label}
                </button>
              </th>
              <td className="text-right">{money(before)}</td>
              <td className="text-right">{money(then)}</td>
              <td className="text-right">{shownDifference(before, then)}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
