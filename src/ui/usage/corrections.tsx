import type { CorrectionView } from "@/services/usage";
import { dayTimePlace } from "../kit/when";

export type CorrectionsProps = { corrections: readonly CorrectionView[]; currency: string; zone: string; now: number };

/** Closed days that were reckoned anew and came out differently: what changed, by how much, when, and whose change it was. */
export function Corrections({ corrections, currency, zone, now }: CorrectionsProps) {
  if (corrections.length === 0) return null;
  return (
    <section aria-label="Days reckoned anew" className="mt-4">
      <h2 className="mb-1 font-semibold text-[15px]">Days reckoned anew</h2>
      <table className="w-full">
        <thead className="text-left text-[13px]">
          <tr className="h-[26px] border-lines border-b">
            <th className="w-[92px] font-semibold">UTC day</th>
            <th className="w-[96px] text-right font-semibold">before, {currency}</th>
            <th className="w-[84px] text-right font-semibold">after</th>
            <th className="w-[84px] pr-3 text-right font-semibold">change</th>
            <th className="font-semibold">Because of, by whom</th>
          </tr>
        </thead>
        <tbody>
          {corrections.map(({ id, day, at, causes, persons, before, after, change, lines, more }) => (
            <tr key={id} className="border-lines border-b align-top">
              <td className="py-1">{day}</td>
              <td className="py-1 text-right">{before}</td>
              <td className="py-1 text-right">{after}</td>
              <td className="py-1 pr-3 text-right font-semibold">{change}</td>
              <td className="py-1">
                {causes}
                {persons !== "" && `, ${persons}`}
                <span className="text-soft"> · {dayTimePlace(at, zone, now)}</span>
                <details className="text-[13px] text-soft">
                  <summary className="cursor-pointer">{lines.length + more} resources</summary>
                  {lines.map(({ name, change: own }) => `${name} ${own}`).join(", ")}
                  {more > 0 && ` and ${more} more, smaller`}
                </details>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
