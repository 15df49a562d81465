"use client";
import { useSearchParams } from "next/navigation";
import { useState } from "react";
import type { FleetsMoney } from "@/services/cost";
import type { FleetSummary } from "@/services/plans";
import { AtLink } from "../as-of/at-link";
import { ButtonLink } from "../kit/button-link";
import { ChangeForm } from "./change-form";
import { FleetRow, MoneyOfFleet } from "./fleet-row";
import { RetiredFleets } from "./retired";
import { useRanking } from "./use-ranking";

/** The fleets in rank order: whom each matches, its hours, and whether its plan is in force. Ranks are changed by dragging and by keys. */
export function FleetList({ fleets, money }: { fleets: readonly FleetSummary[]; money: FleetsMoney }) {
  const isNow = useSearchParams().get("at") === null;
  const used = fleets.filter(({ retiredAt }) => retiredAt === null);
  const ranking = useRanking(used.map(({ id }) => id));
  const [dragged, setDragged] = useState<number | null>(null);
  const byId = new Map(used.map((fleet) => [fleet.id, fleet]));
  const shown = ranking.ids.flatMap((id) => byId.get(id) ?? []);
  // What no fleet in force has costs, too: the lines add up to what Burn says of everything.
  const others = Object.keys(money.fleets).filter((key) => !used.some(({ name }) => name === key));
  return (
    <div className="px-4 py-3">
      <div className="mb-3 flex items-center justify-between">
        <h1 className="font-medium text-[20px] leading-7">{sentence(used)}</h1>
        <div className="flex items-center gap-4">
          <AtLink href="/odd">What is odd</AtLink>
          <AtLink href="/schedules">Schedules</AtLink>
          <ButtonLink href="/fleets/new">New fleet</ButtonLink>
        </div>
      </div>
      {used.length > 0 && (
        <table className="w-full">
          <thead>
            <tr className="h-[30px] border-lines border-b text-left text-[13px]">
              <th className="w-16 pr-3 text-right font-semibold">Rank</th>
              <th className="pr-3 font-semibold">Fleet</th>
              <th className="pr-3 font-semibold">Who</th>
              <th className="pr-3 font-semibold">Hours</th>
              <th className="pr-3 text-right font-semibold">Matches</th>
              <th className="pr-3 text-right font-semibold">Running</th>
              <th className="pr-3 text-right font-semibold">{money.currency} an hour</th>
              <th className="pr-3 text-right font-semibold">This month</th>
              <th className="pr-3 text-right font-semibold">By its end</th>
              <th className="font-semibold">Plan</th>
              <th>
                <span className="sr-only">More</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {shown.map((fleet, i) => (
              <FleetRow
                key={fleet.id}
                fleet={fleet}
                money={money.fleets[fleet.name] ?? null}
                rank={i + 1}
                isManaged={isNow}
                isDragged={dragged === fleet.id}
                onStep={(by) => ranking.step(fleet.id, by)}
                onDrag={setDragged}
                onOver={() => dragged !== null && dragged !== fleet.id && ranking.place(dragged, i)}
              />
            ))}
            {others.map((key) => (
              <SumRow key={key} label={key} money={money.fleets[key]} />
            ))}
          </tbody>
          <tfoot>
            <SumRow label="everything" money={money.all} />
          </tfoot>
        </table>
      )}
      {ranking.isChanged && (
        <section aria-label="A new order" className="mt-4 max-w-[640px] rounded-brick border border-attention bg-raised p-3">
          <h2 className="mb-1 font-semibold">Ranked anew: a machine belongs to the highest that matches it</h2>
          <ChangeForm
            change={{ kind: "order", ids: ranking.ids }}
            label="Rank so"
            back="As before"
            onDone={ranking.reset}
            onBack={ranking.reset}
          />
        </section>
      )}
      {isNow && <RetiredFleets fleets={fleets.filter(({ retiredAt }) => retiredAt !== null)} />}
    </div>
  );
}

function SumRow({ label, money }: { label: string; money: FleetsMoney["all"] | undefined }) {
  return (
    <tr className="h-[34px] border-lines border-b">
      <td />
      <th className="pr-3 text-left font-semibold" colSpan={5}>
        {label}
      </th>
      <MoneyOfFleet money={money ?? null} />
      <td colSpan={2} />
    </tr>
  );
}

function sentence(fleets: readonly FleetSummary[]): string {
  if (fleets.length === 0)
    return "No fleet yet. Say by tags which machines belong together; nothing happens to them until a plan is put in force.";
  const inForce = fleets.filter(({ isInForce }) => isInForce).length;
  return `${fleets.length} fleets, ${inForce} with a plan in force.`;
}
