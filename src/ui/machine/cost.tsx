import { formatInstant } from "@/core/time";
import type { MachineCost } from "@/services/cost";
import { AtLink } from "../as-of/at-link";
import { StateBrick } from "../kit/brick";
import { dayTimePlace } from "../kit/when";
import { viewWords } from "../money/view";

/** What one machine cost, down to its runs and rates; each term leads to the rules of its instant. */
export function MachineCostPage({ cost, zone }: { cost: MachineCost; zone: string }) {
  const { resource, from, to, now, currency, view, terms, byItem, covered, total } = cost;
  return (
    <div className="px-4 py-3">
      <h1 className="font-medium text-[20px] leading-7">
        <AtLink href={`/machines/${encodeURIComponent(resource.id)}`}>{resource.name}</AtLink>: <b>{total}</b> {currency} from{" "}
        {from} to {to} UTC <span className="text-[13px] text-soft">{viewWords(view)}</span>
      </h1>
      <p className="mt-1 mb-3">
        {byItem.map(({ item, amount }) => `${item} ${amount}`).join(" + ") || "Nothing was billed"}
        {covered !== "0.00" && ` − ${covered} paid by commitments`} = <b>{total}</b>. Rates are those of the{" "}
        <AtLink href="/prices">price book</AtLink> of each day.
      </p>
      <table className="w-full" data-testid="cost-terms">
        <thead className="text-left text-[13px]">
          <tr className="h-[26px] border-lines border-b">
            <th className="font-semibold">From</th>
            <th className="font-semibold">To</th>
            <th className="font-semibold">What</th>
            <th className="font-semibold">While</th>
            <th className="text-right font-semibold">hours</th>
            <th className="text-right font-semibold">{currency} an hour</th>
            <th className="pr-4 text-right font-semibold">{currency}</th>
            <th className="font-semibold">Why it ran or not</th>
          </tr>
        </thead>
        <tbody>
          {terms.map((term) => (
            <tr
              key={`${term.item} ${term.from} ${term.to} ${term.isRounding} ${term.level}`}
              className="h-[26px] border-lines border-b"
            >
              <td>{dayTimePlace(term.from, zone, now)}</td>
              <td>{term.isRounding ? "" : term.to >= now ? "goes on" : dayTimePlace(term.to, zone, now)}</td>
              <td>
                {term.item}
                {term.isRounding && ", rounded up as the provider bills"}
              </td>
              <td>
                {term.state === "run" ? (
                  resource.kind === "machine" ? (
                    "a run"
                  ) : (
                    `a run at level ${term.level}`
                  )
                ) : (
                  <StateBrick state={term.state} />
                )}
              </td>
              <td className="text-right">{(term.seconds / 3600).toFixed(4)}</td>
              <td className="text-right">{term.perHour}</td>
              <td className="pr-4 text-right">{term.amount}</td>
              <td>
                <AtLink href={`/machines/${encodeURIComponent(resource.id)}?at=${formatInstant(term.from)}`}>
                  the rules of then
                </AtLink>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
