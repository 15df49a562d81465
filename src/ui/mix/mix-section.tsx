"use client";
import { useEffect, useMemo, useState } from "react";
import { asSaid, ILL_S, type Mix, mixWarnings, mostWanted, REPLACED_A_DAY, weeksSeen, withPricesAgain } from "@/core/mix";
import type { FleetDraft } from "@/core/plan";
import { isSameJson } from "@/core/same";
import { type Instant, MINUTE_S } from "@/core/time";
import { Button } from "../kit/button";
import { Notice } from "../kit/notice";
import { WordChoice } from "../kit/word-choice";
import { WordNumber } from "../kit/word-number";
import { BesideForce } from "./beside-force";
import { DividedBar } from "./divided-bar";
import { EvictionWords } from "./eviction-words";
import { Fan } from "./fan";
import { Figures } from "./figures";
import { Frontier } from "./frontier";
import { Kept } from "./kept";
import { firstMix, withCap } from "./mix-of";
import { PlainQuestion } from "./plain-question";
import { PoolsTable } from "./pools-table";
import { STUDY_DAYS, Study } from "./study";
import type { Frontier as Tried } from "./use-mix";
import { MIX_DAYS, type MixView } from "./use-mix-view";
import { unhealthyWords, warningWords } from "./words";

export type MixSectionProps = Readonly<{
  draft: FleetDraft;
  view: MixView;
  /** Whether hours say how many are wanted when. */
  hasHours: boolean;
  /** What could be had is to be asked for: it is looked at. */
  onAsk: () => void;
  now: Instant;
  zone: string;
  /** The fleet whose mix is in force, and what it is; null where none is. */
  inForce: Readonly<{ fleet: string; mix: Mix }> | null;
  onDraft: (draft: FleetDraft) => void;
}>;

const MINUTES_MAX = 10_080;
const WANTED_MAX = 10_000;

/** How much is firm, where the rest comes from, and what that saves and risks in the coming week. */
export function MixSection({ draft, view, hasHours, onAsk, now, zone, inForce, onDraft }: MixSectionProps) {
  const { offers, isRead, unread, laid, over, from, mix: simulatedMix } = view;
  const { simulated, frontier, problem, askFrontier, cancelFrontier } = view;
  const { mix } = draft;
  const [studied, setStudied] = useState<Tried | null>(null);
  useEffect(onAsk, [onAsk]);
  // One mix for all of its trials: at the prices of the weeks before.
  const studyMix = useMemo(() => {
    const one = laid(mix, STUDY_DAYS);
    return one && withPricesAgain(one, over.prices, STUDY_DAYS);
  }, [laid, mix, over]);
  const forceMix = inForce?.mix;
  const isOther = forceMix !== undefined && mix !== undefined && !isSameJson(forceMix, mix);
  const simulatedForce = useMemo(() => (isOther ? laid(forceMix) : null), [laid, isOther, forceMix]);
  if (unread) return <Notice kind="error">{unread}</Notice>;
  if (!isRead) return <p className="text-soft">What its machines could run on is being read…</p>;
  if (!offers) return <p className="text-soft">Nothing it matches is counted in machines, so nothing of it can be a mix.</p>;
  if (!mix)
    return (
      <div className="flex flex-wrap items-center gap-3">
        <PlainQuestion offers={offers} />
        <Button onClick={() => onDraft({ ...draft, mix: firstMix(offers) })}>Try a mix</Button>
      </div>
    );
  const most = mostWanted(mix.wanted);
  const set = (more: Partial<Mix>) => onDraft({ ...draft, mix: { ...mix, ...more } });
  const setFirm = (firm: number) => set({ firm: mix.pools.length === 0 ? most : Math.min(firm, most) });
  const setPools = (pools: Mix["pools"]) => set({ pools, ...(pools.length === 0 ? { firm: most } : {}) });
  const isKept = inForce !== null;
  const priceWeeks = weeksSeen(mix, over.prices);
  const warnings = simulatedMix ? mixWarnings(simulatedMix, new Map(offers.offers.map((offer) => [offer.name, offer]))) : [];
  return (
    <div className="flex flex-col gap-3">
      <p className="leading-7">
        <WordNumber
          label="Units wanted"
          value={most}
          max={WANTED_MAX}
          onNumber={(wanted) => set({ wanted, firm: Math.min(mix.firm, wanted), floor: Math.min(mix.floor ?? 0, wanted) })}
        />{" "}
        x {offers.size} are wanted{hasHours ? " when its hours say on" : ""}. Spot comes{" "}
        <WordChoice
          label="Order of pools"
          value={mix.order}
          options={[
            { value: "even", label: "evenly from all pools" },
            { value: "cheapest", label: "from the cheapest that has any" },
            { value: "steadiest", label: "from the steadiest that has any" },
            { value: "blend", label: "from all, more from cheap and steady ones" },
          ]}
          onChange={({ target }) => set({ order: target.value as Mix["order"] })}
        />
        ; when one is evicted,{" "}
        <WordChoice
          label="On eviction"
          value={mix.eviction}
          options={[
            { value: "drop", label: "its disk is dropped and another takes its place" },
            { value: "keep disks", label: "its disk is kept and waits for its own pool" },
          ]}
          onChange={({ target }) => set({ eviction: target.value as Mix["eviction"] })}
        />
        , tried every{" "}
        <WordNumber
          label="Minutes between attempts"
          value={mix.refillEveryMinutes ?? 0}
          max={MINUTES_MAX}
          onNumber={(n) => set({ refillEveryMinutes: n === 0 ? null : n })}
        />{" "}
        min; set-up takes{" "}
        <WordNumber
          label="Minutes of set-up"
          value={mix.setupMinutes ?? 0}
          max={MINUTES_MAX}
          onNumber={(n) => set({ setupMinutes: n })}
        />{" "}
        min.{" "}
        <WordChoice
          label="Fallback"
          value={mix.fallbackAfterMinutes === null ? "never" : "after"}
          options={[
            { value: "never", label: "Full price never stands in" },
            { value: "after", label: "Full price stands in after" },
          ]}
          onChange={({ target }) => set({ fallbackAfterMinutes: target.value === "never" ? null : 30 })}
        />
        {mix.fallbackAfterMinutes !== null && (
          <>
            {" "}
            <WordNumber
              label="Minutes until full price stands in"
              value={mix.fallbackAfterMinutes}
              max={MINUTES_MAX}
              onNumber={(n) => set({ fallbackAfterMinutes: n })}
            />{" "}
            min, and goes when a pool has been there for{" "}
            <WordNumber
              label="Minutes until the way back"
              value={mix.returnAfterMinutes ?? 0}
              max={MINUTES_MAX}
              onNumber={(n) => set({ returnAfterMinutes: n })}
            />{" "}
            min
          </>
        )}
        . Members that are unhealthy for {ILL_S / MINUTE_S} minutes{" "}
        <WordChoice
          label="Unhealthy members"
          value={draft.unhealthy ?? "replace"}
          options={[
            { value: "replace", label: `${unhealthyWords("replace")}, ${REPLACED_A_DAY} a day at most` },
            { value: "tell", label: `${unhealthyWords("tell")}, and stay` },
            // A plan file may say so: what it comes to is said, and it is not offered.
            ...(draft.unhealthy === "restart" ? [{ value: "restart", label: unhealthyWords("restart") }] : []),
          ]}
          onChange={({ target }) => {
            const { unhealthy: _, ...rest } = draft;
            onDraft(target.value === "replace" ? rest : { ...rest, unhealthy: target.value as "tell" | "restart" });
          }}
        />
        .
      </p>
      <EvictionWords offers={offers} setupMinutes={mix.setupMinutes ?? 0} />
      {inForce !== null && <Kept fleet={inForce.fleet} zone={zone} now={now} />}
      {offers.ownPrice < offers.firmPrice && (
        <p className="text-[13px] text-soft">
          It runs at spot price already: what is firm costs more than it does now, and the ledger says how much.
        </p>
      )}
      <DividedBar firm={mix.firm} most={most} onFirm={setFirm} />
      {problem && <Notice kind="error">{problem}</Notice>}
      {warnings.map((warning) => (
        <Notice key={`${warning.code} ${"pool" in warning ? warning.pool : ""}`} kind="warning">
          {warningWords(warning)}
        </Notice>
      ))}
      {simulated && simulatedMix && <Fan fan={simulated.fan} mix={simulatedMix} from={from} zone={zone} />}
      {simulated &&
        (simulatedForce ? (
          <BesideForce
            simulated={simulated}
            currency={offers.currency}
            floor={mix.floor ?? 0}
            mix={simulatedForce}
            over={over}
            priceWeeks={priceWeeks}
          />
        ) : (
          <Figures simulated={simulated} currency={offers.currency} floor={mix.floor ?? 0} priceWeeks={priceWeeks} />
        ))}
      <PoolsTable mix={mix} offers={offers} onPools={setPools} />
      {simulatedMix && (
        <Frontier
          frontier={studied ?? frontier}
          mix={mix}
          most={most}
          currency={offers.currency}
          onAsk={() => {
            setStudied(null);
            askFrontier();
          }}
          onCancel={cancelFrontier}
          onFloor={(floor) => set({ floor })}
          onTake={({ firm, pools, order }) => {
            // Where all is firm the pools stay as they are, to be taken up again.
            const tried = ((studied ?? frontier)?.of.pools ?? [])
              .filter(({ name }) => pools.includes(name))
              .map((pool) => {
                // What was seen may have changed since it was tried: the draft's own word stands.
                const own = mix.pools.find(({ name }) => name === pool.name);
                const offer = offers.offers.find(({ name }) => name === pool.name);
                return own ?? (offer ? withCap(asSaid(pool, offer), offer, pool.cap ?? null) : pool);
              });
            set({ firm: Math.min(firm, most), ...(tried.length > 0 ? { pools: tried } : {}), ...(order ? { order } : {}) });
          }}
        />
      )}
      <Study fleet={draft.name} mix={studyMix} weekDays={MIX_DAYS} onPoints={setStudied} />
      <p className="flex flex-wrap items-center gap-3 text-[13px] text-soft">
        <span>
          {offers.others > 0 && `${offers.others} of what it matches are of another size, OS or region and are left out. `}
          {isKept
            ? "Rounds keep it: firm first, then by the order."
            : "Put in force, rounds keep its groups at it; single machines are left as they are."}
        </span>
        <Button
          look="quiet"
          onClick={() => {
            const { mix: _, ...rest } = draft;
            onDraft(rest);
          }}
        >
          No mix
        </Button>
      </p>
    </div>
  );
}
