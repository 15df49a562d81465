"use client";
import { useEffect, useMemo, useState } from "react";
import { type Mix, mixWarnings, mostWanted, weeksSeen, withPricesAgain } from "@/core/mix";
import type { FleetDraft } from "@/core/plan";
import { isSameJson } from "@/core/same";
import type { Instant } from "@/core/time";
import type { MixOffers } from "@/services/mix";
import { Button } from "../kit/button";
import { Notice } from "../kit/notice";
import { BesideForce } from "./beside-force";
import { DividedBar } from "./divided-bar";
import { EvictionWords } from "./eviction-words";
import { Fan } from "./fan";
import { Figures } from "./figures";
import { Frontier } from "./frontier";
import { Kept } from "./kept";
import { firstMix, taken, withoutMix } from "./mix-of";
import { MixSentence } from "./mix-sentence";
import { PlainQuestion } from "./plain-question";
import { PoolsTable } from "./pools-table";
import { STUDY_DAYS, Study } from "./study";
import type { Frontier as Tried } from "./use-mix";
import { MIX_DAYS, type MixView } from "./use-mix-view";
import { warningWords } from "./words";

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
  if (!offers)
    return (
      <p className="text-soft">
        Nothing it matches is a group: a mix is of a group's members, and single machines are left as they are.
      </p>
    );
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
  const shownFrontier = studied ?? frontier;
  const priceWeeks = weeksSeen(mix, over.prices);
  const warnings = simulatedMix ? mixWarnings(simulatedMix, new Map(offers.offers.map((offer) => [offer.name, offer]))) : [];
  return (
    <div className="flex flex-col gap-3">
      <MixSentence draft={draft} mix={mix} size={offers.size} hasHours={hasHours} set={set} onDraft={onDraft} />
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
          frontier={shownFrontier}
          mix={mix}
          most={most}
          currency={offers.currency}
          onAsk={() => {
            setStudied(null);
            askFrontier();
          }}
          onCancel={cancelFrontier}
          onFloor={(floor) => set({ floor })}
          onTake={(point) => set(taken(point, { mix, most, tried: shownFrontier?.of.pools ?? [], offers }))}
        />
      )}
      <Study fleet={draft.name} mix={studyMix} weekDays={MIX_DAYS} onPoints={setStudied} />
      <WithoutMix offers={offers} isKept={inForce !== null} onNone={() => onDraft(withoutMix(draft))} />
    </div>
  );
}

type WithoutMixProps = Readonly<{ offers: MixOffers; isKept: boolean; onNone: () => void }>;

/** Who is left out of it, what becomes of it, and the way to have none. */
function WithoutMix({ offers: { groups, others }, isKept, onNone }: WithoutMixProps) {
  const beside = groups > 1 ? `It has ${groups} groups, and a mix is kept for one: each needs a fleet of its own. ` : "";
  return (
    <p className="flex flex-wrap items-center gap-3 text-[13px] text-soft">
      <span>
        {beside}
        {others > 0 &&
          `${others} of what it matches ${others === 1 ? "is" : "are"} no part of it and in none of its figures: no group, or of another size, OS or region. `}
        {isKept
          ? "Rounds keep it: firm first, then by the order."
          : groups > 1
            ? ""
            : "Put in force, rounds keep its group at it."}
      </span>
      <Button look="quiet" onClick={onNone}>
        No mix
      </Button>
    </p>
  );
}
