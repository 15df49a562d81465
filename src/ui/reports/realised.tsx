"use client";
import { useRouter } from "next/navigation";
import { useMemo } from "react";
import { dayNumber, formatDate } from "@/core/time";
import type { RealisedView } from "@/services/cost";
import { Chart } from "../chart/chart";
import { Choice } from "../kit/choice";
import { viewWords } from "../money/view";
import { ReportTabs } from "./tabs";

const WEEK_MS = 7 * 86_400_000;

/** What the levers were really worth, beside what was projected, and why they differ. */
export function Realised({ view }: { view: RealisedView }) {
  const router = useRouter();
  const { fleets, series, currency, total } = view;
  const traces = useMemo(() => {
    const last = series.at(-1);
    // A day is a step as wide as itself: the last one ends where the next would begin.
    const ends = last ? [...series, { ...last, day: formatDate(dayNumber(last.day) + 1) }] : [];
    const x = ends.map(({ day }) => `${day} 00:00`);
    return [
      { name: "realised", x, y: ends.map(({ saved }) => saved), colour: "saved" },
      ...(ends.some(({ idle }) => idle !== 0)
        ? [{ name: "of it idle alarms", x, y: ends.map(({ idle }) => idle), colour: "doze" }]
        : []),
      ...(ends.some(({ mix }) => mix)
        ? [
            { name: "of it the mix", x, y: ends.map(({ mix }) => mix?.saved ?? 0), colour: "lit" },
            { name: "the mix, 5 of 100 below", x, y: ends.map(({ mix }) => mix?.low ?? 0), colour: "lit", isDashed: true },
            { name: "the mix, 5 of 100 above", x, y: ends.map(({ mix }) => mix?.high ?? 0), colour: "lit", isDashed: true },
          ]
        : []),
      { name: "projected", x, y: ends.map(({ projected }) => projected), colour: "attention", isDashed: true },
    ];
  }, [series]);
  return (
    <div className="px-4 py-3">
      <ReportTabs />
      {fleets.length === 0 ? (
        <h1 className="max-w-[760px] font-medium text-[17px] leading-6">
          Nothing to compare yet: a day is reckoned when it is over in UTC, from the first whole day that a fleet with hours or
          idle alarms is in force.
        </h1>
      ) : (
        <>
          <div className="mb-2 flex items-end justify-between gap-4">
            <h1 className="font-medium text-[20px] leading-7">
              <b className="text-saved">{total.saved}</b> {currency} saved, {viewWords(view.view)}, from{" "}
              {series[0]?.day ?? view.from} to {series.at(-1)?.day ?? view.to} UTC; {total.projected} projected
            </h1>
            <Choice
              label="Chart"
              isLabelBeside
              value={view.fleet ?? ""}
              options={[{ value: "", label: "all fleets" }, ...fleets.map(({ fleet }) => ({ value: fleet, label: fleet }))]}
              onChange={(event) =>
                router.push(
                  event.target.value === ""
                    ? "/reports/realised"
                    : `/reports/realised?fleet=${encodeURIComponent(event.target.value)}`,
                )
              }
            />
          </div>
          <Chart
            label="Savings a day, realised and projected"
            traces={traces}
            unit={`${currency} a day`}
            now={null}
            height={220}
            tickMs={series.length > 10 ? WEEK_MS : 86_400_000}
          />
          <table className="mt-3 w-full">
            <thead className="text-left text-[13px]">
              <tr className="h-[30px] border-lines border-b">
                <th className="pr-3 font-semibold">Fleet, lever</th>
                <th className="pr-3 text-right font-semibold">Days</th>
                <th className="pr-3 text-right font-semibold">As before</th>
                <th className="pr-3 text-right font-semibold">Always on</th>
                <th className="pr-3 text-right font-semibold">Paid</th>
                <th className="pr-3 text-right font-semibold">Saved</th>
                <th className="pr-3 text-right font-semibold">Projected</th>
                <th className="font-semibold">Saved less (or more) than projected, by cause</th>
              </tr>
            </thead>
            <tbody>
              {fleets.map((line) => (
                <tr key={line.fleet} className="h-[30px] border-lines border-b align-top">
                  <td className="py-1 pr-3">
                    {line.fleet}, {line.lever}
                    <span className="block text-[13px] text-soft">
                      {line.basis
                        ? `as on ${line.basis.days} days, ${line.basis.from} to ${line.basis.to}`
                        : "as always on: no day before"}
                    </span>
                  </td>
                  <td className="py-1 pr-3 text-right">{line.days}</td>
                  <td className="py-1 pr-3 text-right">{line.baseline}</td>
                  <td className="py-1 pr-3 text-right">{line.alwaysOn}</td>
                  <td className="py-1 pr-3 text-right">{line.paid}</td>
                  <td className="py-1 pr-3 text-right">
                    <b className="text-saved">{line.saved}</b>
                    {line.savedByIdle !== "0.00" && <span className="block text-[13px]">{line.savedByIdle} by idle alarms</span>}
                    {line.mixWithin && (
                      <span className="block text-[13px]">
                        {line.savedByMix} by the mix, within its forecast on {line.mixWithin.days} of {line.mixWithin.of} days
                      </span>
                    )}
                  </td>
                  <td className="py-1 pr-3 text-right">{line.projected}</td>
                  <td className="py-1">
                    {line.gap === "0.00" ? "as projected" : <b>{line.gap}</b>}
                    {line.causes.length > 0 && `: ${line.causes.map(({ cause, amount }) => `${cause} ${amount}`).join(", ")}`}
                    {line.coveredAnyway !== "0.00" &&
                      `; ${line.coveredAnyway} of the saving were paid for by a commitment anyway`}
                    {line.besides.length > 0 && (
                      <span className="block text-[13px] text-soft">
                        In neither figure: {line.besides.map(({ cause, amount }) => `${cause} ${amount}`).join(", ")}
                      </span>
                    )}
                    {line.isUnexplained && (
                      <b className="block text-loss">More than a hundredth of it is unexplained: that is a fault, please tell.</b>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="mt-2 text-[13px] text-soft">
            "As before" is what ran on the same weekdays before the plan, at the prices of each day; always on where nothing ran
            before. Always on is before commitments.
          </p>
        </>
      )}
    </div>
  );
}
