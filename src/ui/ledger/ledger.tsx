"use client";
import type { ReactNode } from "react";
import type { Amount } from "@/core/pricing";
import type { NetProjection } from "@/core/projection";
import { type FirstRound, money, share } from "./reckon";

export type LedgerProps = {
  projection: NetProjection;
  first: FirstRound;
  currency: string;
  hasHours: boolean;
  isOld: boolean;
  warnings: readonly ReactNode[];
  differences: readonly string[];
  /** What to press, and why it cannot be where it cannot. */
  press: ReactNode;
};

/** What the plan is worth, what its first round does, and what is odd about it. Always in sight. */
export function Ledger({ projection, first, currency, hasHours, isOld, warnings, differences, press }: LedgerProps) {
  return (
    <aside aria-label="Ledger" aria-busy={isOld} className={`flex flex-col gap-3 ${isOld ? "opacity-70" : ""}`}>
      <section aria-label="Worth a month">
        <h2 className="font-semibold text-[15px]">
          {hasHours ? (
            <>
              Saves{" "}
              <span className={projection.savesOnAsItRan >= 0n ? "text-saved" : "text-loss"}>
                {money(projection.savesOnAsItRan)}
              </span>{" "}
              {currency} a month
            </>
          ) : (
            "No hours yet"
          )}
        </h2>
        <Waterfall projection={projection} currency={currency} hasHours={hasHours} />
      </section>
      <section aria-label="First round">
        <h2 className="font-semibold text-[15px]">First round, if put in force now</h2>
        <FirstRoundList first={first} hasHours={hasHours} />
      </section>
      {warnings.length > 0 && (
        <section aria-label="Warnings" className="flex flex-col gap-1.5">
          {warnings}
        </section>
      )}
      <section aria-label="Against the plan in force">
        <h2 className="font-semibold text-[15px]">Against the plan in force</h2>
        {differences.length === 0 ? (
          <p className="text-soft">No difference.</p>
        ) : (
          differences.map((said) => <p key={said}>{said}</p>)
        )}
      </section>
      {press}
    </aside>
  );
}

/** From what it would cost always on, by what really ran, down to what it costs with the hours. */
function Waterfall({ projection, currency, hasHours }: { projection: NetProjection; currency: string; hasHours: boolean }) {
  const { alwaysOn, asItRan, projected, savesOnAlwaysOn, savesOnAsItRan, swallowed } = projection;
  const most = [alwaysOn, asItRan, projected].reduce((a, b) => (a > b ? a : b), 1n as Amount);
  const width = (amount: Amount) => `${Number((amount * 1000n) / most) / 10}%`;
  const line = (label: string, amount: Amount, look: string, from: Amount = 0n as Amount) => (
    <tr className="h-[26px]" key={label}>
      <th scope="row" className="whitespace-nowrap pr-2 text-left font-normal">
        {label}
      </th>
      <td className="w-full">
        <div className="relative h-3.5">
          <div
            className={`absolute inset-y-0 rounded-[2px] ${look}`}
            style={{ left: width(from), width: width(amount < 0n ? (-amount as Amount) : amount) }}
          />
        </div>
      </td>
      <td className="pl-2 text-right">{money(amount)}</td>
    </tr>
  );
  const low = (a: Amount, b: Amount) => (a < b ? a : b);
  return (
    <table className="w-full">
      <caption className="sr-only">Per month of 730 hours, in {currency}</caption>
      <tbody>
        {line("Always on", alwaysOn, "bg-lit/50 border border-lit-deep")}
        {line("As it ran", asItRan, "bg-lit")}
        {hasHours && line("Hours save", savesOnAsItRan, savesOnAsItRan >= 0n ? "bg-saved" : "bg-loss", low(projected, asItRan))}
        {hasHours && line("With hours", projected, "bg-lit border border-ink")}
      </tbody>
      <tfoot>
        <tr>
          <td colSpan={3} className="pt-0.5 text-[13px] text-soft">
            {currency} a month; as it ran in the last 28 days
            {hasHours && (
              <>
                . Saves {share(savesOnAsItRan, asItRan)} of that, {share(savesOnAlwaysOn, alwaysOn)} of always on (
                {money(savesOnAlwaysOn)})
              </>
            )}
            {swallowed > 0n && (
              <b className="block text-loss" data-testid="swallowed">
                {money(swallowed)} more would be saved, but a commitment has paid for it anyway.
              </b>
            )}
          </td>
        </tr>
      </tfoot>
    </table>
  );
}

function FirstRoundList({ first, hasHours }: { first: FirstRound; hasHours: boolean }) {
  if (!hasHours) return <p className="text-soft">Choose or paint hours to see which machines would stop.</p>;
  const { stops, starts, resizes, guarded, claimed } = first;
  const names = (list: readonly { name: string }[]) => list.map(({ name }) => name).join(", ");
  return (
    <div className="flex flex-col gap-1" data-testid="first-round">
      {stops.length + starts.length + resizes.length === 0 && <p>Changes nothing: every machine is as the hours want it.</p>}
      {stops.length > 0 && (
        <details>
          <summary className="cursor-pointer">
            Stops <b>{stops.length}</b>
          </summary>
          <p className="text-[13px] text-soft">{names(stops)}</p>
        </details>
      )}
      {starts.length > 0 && (
        <details>
          <summary className="cursor-pointer">
            Starts <b>{starts.length}</b>
          </summary>
          <p className="text-[13px] text-soft">{names(starts)}</p>
        </details>
      )}
      {resizes.map(({ resource, level }) => (
        <p key={resource.id}>
          {resource.name}: {resource.level} → <b>{level}</b>
        </p>
      ))}
      {guarded > 0 && <p className="text-soft">{guarded} guarded, never touched</p>}
      {claimed > 0 && <p className="text-soft">{claimed} belong to a fleet above and are left to it</p>}
    </div>
  );
}
