import type { OpenRound, StoredDecision } from "@/services";
import { AtLink } from "../as-of/at-link";
import { dayTimePlace } from "../kit/when";
import { AllowStops } from "./allow-stops";
import { outcome } from "./rounds";

const VERDICT_MARKS: Record<StoredDecision["verdict"], string> = {
  act: "●",
  "as due": "○",
  left: "–",
  waiting: "◔",
  braked: "△",
};

/** One round, opened to every decision with its chain of reasons. */
export function OneRound({ round, decisions, isMore, offset }: OpenRound & { offset: number }) {
  const counts = new Map<string, number>();
  for (const { verdict } of decisions) counts.set(verdict, (counts.get(verdict) ?? 0) + 1);
  return (
    <div className="px-4 py-3">
      <p className="text-[13px]">
        <AtLink href="/rounds">Rounds</AtLink>
      </p>
      <h1 className="font-medium text-[20px] leading-7">
        {round.mode === "rehearse" ? "Rehearsal" : "Round"} {round.id}, {dayTimePlace(round.at, "UTC")}: {outcome(round)}.
      </h1>
      <p className="mb-2 text-soft">
        Asked by {round.askedBy}
        {round.tookMs !== null && `, took ${round.tookMs} ms`}
        {round.mode === "rehearse" && "; a rehearsal sends nothing"}. Here{" "}
        {[...counts].map(([verdict, count]) => `${count} ${verdict}`).join(", ")}.
      </p>
      {Object.entries(round.unread).map(([account, why]) => (
        <p key={account} className="mb-2 text-loss">
          {account} could not be read, so nothing of it was touched: {why}
        </p>
      ))}
      {round.braked > 0 && round.mode === "act" && <AllowStops stops={round.braked} />}
      <table className="w-full table-fixed">
        <thead className="text-left text-[13px]">
          <tr className="h-[26px] border-lines border-b">
            <th className="w-[170px] pr-3 font-semibold">Machine</th>
            <th className="w-[170px] pr-3 font-semibold">Fleet</th>
            <th className="w-[70px] pr-3 text-right font-semibold">Is</th>
            <th className="w-[70px] pr-3 text-right font-semibold">Due</th>
            <th className="w-[150px] pr-3 font-semibold">Decision</th>
            <th className="font-semibold">Why</th>
          </tr>
        </thead>
        <tbody>
          {decisions.map((decision) => (
            <DecisionLine key={decision.resourceId} decision={decision} />
          ))}
        </tbody>
      </table>
      <p className="mt-2 flex gap-4">
        {offset > 0 && <AtLink href={`/rounds/${round.id}?from=${Math.max(0, offset - 500)}`}>Earlier rows</AtLink>}
        {isMore && <AtLink href={`/rounds/${round.id}?from=${offset + 500}`}>Further rows</AtLink>}
      </p>
    </div>
  );
}

function DecisionLine({ decision }: { decision: StoredDecision }) {
  const { name, fleet, actual, due, verdict, verb, wanted, why, chain, actionStatus, lastAnswer } = decision;
  const isActing = verdict === "act" || verdict === "braked";
  return (
    <tr className="border-lines border-b align-top">
      <td className="truncate py-1 pr-3" title={name}>
        <AtLink href={`/machines/${encodeURIComponent(decision.resourceId)}`}>{name}</AtLink>
      </td>
      <td className="truncate py-1 pr-3">{fleet ?? <span className="text-soft">none</span>}</td>
      <td className="py-1 pr-3 text-right">{levelWord(actual)}</td>
      <td className="py-1 pr-3 text-right">{due === null ? "leave" : levelWord(due)}</td>
      <td className={`py-1 pr-3 ${isActing ? "font-semibold" : "text-soft"}`}>
        <span aria-hidden>{VERDICT_MARKS[verdict]} </span>
        {verdict === "act" ? `${verb}${verb === "resize" ? ` to ${wanted}` : ""}` : verdict}
        {actionStatus && <span className="font-normal text-soft">, {actionStatus === "sent" ? lastAnswer : actionStatus}</span>}
      </td>
      <td className="py-1">
        <details>
          <summary className="cursor-pointer">{why}</summary>
          <ol className="my-1 text-[13px] text-soft">
            {chain.map(({ rule, applies, why: because }) => (
              <li key={rule} className={applies ? "text-ink" : ""}>
                <b>{rule}</b> {applies ? "speaks" : "does not"}: {because}
              </li>
            ))}
          </ol>
        </details>
      </td>
    </tr>
  );
}

function levelWord(level: number): string {
  return level === 0 ? "off" : level === 1 ? "on" : String(level);
}
