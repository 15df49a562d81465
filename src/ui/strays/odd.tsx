import type { FindingsPage } from "@/services/cost";
import { AtLink } from "../as-of/at-link";

/** What is odd about the estate, each with what it is about in money and its next step. */
export function Odd({ page: { currency, lines } }: { page: FindingsPage }) {
  const most = Math.max(1, ...lines.map(({ perMonth }) => amount(perMonth)));
  return (
    <div className="px-4 py-3">
      <div className="mb-2 flex items-baseline justify-between gap-4">
        <h1 className="font-medium text-[20px] leading-7">
          {lines.length === 0
            ? "Nothing is odd: tags, hours, fleets and commitments agree."
            : `${lines.length} ${lines.length === 1 ? "thing is" : "things are"} odd, the dearest first.`}
        </h1>
        <AtLink href="/strays">Strays</AtLink>
      </div>
      {lines.length > 0 && (
        <table className="w-full">
          <thead className="text-left text-[13px]">
            <tr className="h-[26px] border-lines border-b">
              <th className="w-[150px] pr-3 text-right font-semibold">About {currency} a month</th>
              <th className="w-[110px]">
                <span className="sr-only">As a bar</span>
              </th>
              <th className="pr-3 font-semibold">What</th>
              <th className="pr-3 font-semibold">What is odd</th>
              <th className="font-semibold">Next step</th>
            </tr>
          </thead>
          <tbody>
            {lines.map(({ key, what, says, step, perMonth, href }) => (
              <tr key={key} className="border-lines border-b align-top">
                <td className="whitespace-nowrap py-1.5 pr-3 text-right tabular-nums">{perMonth}</td>
                <td className="py-1.5 pr-3">
                  <span
                    aria-hidden
                    className="mt-1 block h-[12px] rounded-brick bg-lit"
                    style={{ width: `${Math.max(1, (amount(perMonth) / most) * 100)}%` }}
                  />
                </td>
                <td className="py-1.5 pr-3 font-semibold">{what}</td>
                <td className="py-1.5 pr-3">{says}</td>
                <td className="whitespace-nowrap py-1.5">
                  <AtLink href={href} aria-label={`${step}: ${what}`}>
                    {step}
                  </AtLink>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}

/** A shown amount as a number, for the length of a bar alone. */
function amount(text: string): number {
  return Number(text.replaceAll(/[^\d.-]/g, ""));
}
