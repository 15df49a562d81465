import type { DecisionGroup, OpenRound, StoredDecision } from "@/services/rounds";
import { AtLink } from "../as-of/at-link";
import { durationWords } from "../kit/duration-words";
import { levelWord } from "../kit/level-word";
import { dayTimePlace } from "../kit/when";
import { LetGo } from "./let-go";
import { outcome } from "./rounds";
import { groupWords } from "./words";

const VERDICT_MARKS: Record<StoredDecision["verdict"], string> = {
  act: "●",
  "as due": "○",
  left: "–",
  waiting: "◔",
  braked: "△",
};

export type OneRoundProps = OpenRound & { zone: string; offset: number; group: number | null };

/** One round by what it decided and why, each group opened to its machines and each machine to its chain of reasons. */
export function OneRound({ round, groups, decisions, orders, isMore, offset, group, zone }: OneRoundProps) {
  const isRehearsal = round.mode === "rehearse";
  return (
    <div className="px-4 py-3">
      <p className="text-[13px]">
        <AtLink href="/rounds">Rounds</AtLink>
      </p>
      <h1 className="font-medium text-[20px] leading-7">
        {isRehearsal ? "Rehearsal" : "Round"} {round.id}
        {round.fleet !== null && ` of ${round.fleet}`}, {dayTimePlace(round.at, zone)}: {outcome(round)}.
      </h1>
      <p className="mb-2 text-soft">
        Asked by {round.askedBy}
        {round.tookMs !== null && `, took ${round.tookMs} ms`}
        {isRehearsal && "; a rehearsal sends nothing, and goes by no pause"}.
      </p>
      {Object.entries(round.unread).map(([account, why]) => (
        <p key={account} className="mb-2 text-loss">
          Nothing of {account} was touched: {why}
        </p>
      ))}
      {round.braked > 0 && !isRehearsal && <LetGo round={round.id} stops={round.braked} />}
      {orders.length > 0 && <MixOrders orders={orders} />}
      <ul className="flex flex-col" aria-label="What was decided, by reason">
        {groups.map((one, i) => (
          <li key={`${one.verdict} ${one.fleet} ${one.verb} ${one.why}`} className="border-lines border-b">
            <GroupLine
              group={one}
              isOpen={group === i}
              address={`/rounds/${round.id}?group=${i}`}
              home={`/rounds/${round.id}`}
              isRehearsal={isRehearsal}
            />
            {group === i && (
              <div className="pb-2 pl-6">
                <Machines decisions={decisions} />
                <p className="mt-2 flex gap-4">
                  {offset > 0 && (
                    <AtLink href={`/rounds/${round.id}?group=${i}&from=${Math.max(0, offset - 500)}`}>Earlier rows</AtLink>
                  )}
                  {isMore && <AtLink href={`/rounds/${round.id}?group=${i}&from=${offset + 500}`}>Further rows</AtLink>}
                </p>
              </div>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}

const ASKED: Readonly<Record<OpenRound["orders"][number]["kind"], string>> = {
  order: "asked for",
  restart: "started again",
  remove: "given back",
};

/** What the round asked for to keep mixes, one line each. */
function MixOrders({ orders }: { orders: OpenRound["orders"] }) {
  return (
    <section aria-label="For mixes" className="mb-3">
      <h2 className="font-semibold text-[15px]">For mixes</h2>
      <ul>
        {orders.map(({ id, fleet, kind, part, pool, size, zone, why, memberId, status, lastAnswer }) => (
          <li key={id} className="flex min-h-[30px] flex-wrap items-center gap-x-2 border-lines border-b text-[13px]">
            <b className={status === "accepted" ? "" : "text-loss"}>{status === "accepted" ? "●" : "△"}</b>
            <span className="text-soft">{fleet}</span>
            <span>
              {ASKED[kind]} {part === "spot" ? "spot" : part === "firm" ? "firm" : "full price, standing in"}{" "}
              {pool ?? `${size} ${zone}`}
            </span>
            {memberId !== null && <AtLink href={`/machines/${encodeURIComponent(memberId)}`}>{memberId.split(":").pop()}</AtLink>}
            <span className="text-soft">
              {why}
              {status === "accepted" ? "" : `; ${status === null ? "no answer yet" : lastAnswer}`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

type GroupLineProps = { group: DecisionGroup; isOpen: boolean; address: string; home: string; isRehearsal: boolean };

function GroupLine({ group, isOpen, address, home, isRehearsal }: GroupLineProps) {
  const isQuiet = group.verdict === "as due" || group.verdict === "left";
  const ends = Object.entries(group.ends).map(([end, n]) => `${n} ${end}`);
  return (
    <AtLink
      href={isOpen ? home : address}
      scroll={false}
      aria-expanded={isOpen}
      className={`flex min-h-[30px] items-baseline gap-2 py-1 no-underline hover:bg-raised ${isQuiet ? "text-soft" : ""}`}
    >
      <span aria-hidden className="w-4">
        {isOpen ? "▾" : "▸"}
      </span>
      <span aria-hidden className={group.verdict === "braked" ? "text-loss" : ""}>
        {VERDICT_MARKS[group.verdict]}
      </span>
      <b className={`whitespace-nowrap ${isQuiet ? "font-normal" : ""}`}>{groupWords(group, isRehearsal)}</b>
      {group.fleet !== null && <span className="whitespace-nowrap">{group.fleet}</span>}
      <span className="min-w-0 flex-1">{group.why}</span>
      {ends.length > 0 && <span className="whitespace-nowrap text-[13px] text-soft">{ends.join(", ")}</span>}
    </AtLink>
  );
}

function Machines({ decisions }: { decisions: readonly StoredDecision[] }) {
  return (
    <table className="w-full table-fixed">
      <thead className="text-left text-[13px]">
        <tr className="h-[26px] border-lines border-b">
          <th className="w-[170px] pr-3 font-semibold">Machine</th>
          <th className="w-[70px] pr-3 text-right font-semibold">Is</th>
          <th className="w-[90px] pr-3 text-right font-semibold">Due</th>
          <th className="w-[260px] pr-3 font-semibold">What came of it</th>
          <th className="font-semibold">Rules, in order</th>
        </tr>
      </thead>
      <tbody>
        {decisions.map((decision) => (
          <MachineLine key={decision.resourceId} decision={decision} />
        ))}
      </tbody>
    </table>
  );
}

function MachineLine({ decision }: { decision: StoredDecision }) {
  const { name, actual, due, chain, actionStatus, lastAnswer, attempts, tookS } = decision;
  return (
    <tr className="border-lines border-b align-top">
      <td className="truncate py-1 pr-3" title={name}>
        <AtLink href={`/machines/${encodeURIComponent(decision.resourceId)}`}>{name}</AtLink>
      </td>
      <td className="py-1 pr-3 text-right">{levelWord(actual)}</td>
      <td className="py-1 pr-3 text-right">{due === null ? "leave" : levelWord(due)}</td>
      <td className="py-1 pr-3">
        {actionStatus ?? <span className="text-soft">nothing was sent</span>}
        {actionStatus && (
          <span className="text-soft">
            {lastAnswer !== actionStatus && lastAnswer && `: ${lastAnswer}`}
            {(attempts ?? 0) > 1 && `, ${attempts} tries`}
            {tookS !== null && `, seen after ${durationWords(tookS)}`}
          </span>
        )}
      </td>
      <td className="py-1">
        <details>
          <summary className="cursor-pointer">{chain.find(({ applies }) => applies)?.rule ?? "no rule"} speaks</summary>
          <ol className="my-1 text-[13px] text-soft">
            {chain.map(({ rule, applies, why }) => (
              <li key={rule} className={applies ? "text-ink" : ""}>
                <b>{rule}</b> {applies ? "speaks" : "does not"}: {why}
              </li>
            ))}
          </ol>
        </details>
      </td>
    </tr>
  );
}
