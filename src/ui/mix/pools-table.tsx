"use client";
import { useState } from "react";
import type { Mix, Pool } from "@/core/mix";
import { WEEK_HOURS } from "@/core/time";
import type { MixOffer, MixOffers } from "@/services/mix";
import { DecimalCell } from "../kit/decimal-cell";
import { poolOf, shareUnder, withCap } from "./mix-of";
import { PoolRates } from "./pool-rates";
import { PricePicture } from "./price-picture";

export type PoolsTableProps = Readonly<{ mix: Mix; offers: MixOffers; onPools: (pools: Mix["pools"]) => void }>;

/** Where spot capacity may come from: what it costs, how often it goes, and how well that is known. */
export function PoolsTable({ mix, offers, onPools }: PoolsTableProps) {
  const possible = offers.offers.filter(({ whyNot }) => whyNot === null);
  const refused = [...new Map(offers.offers.flatMap(({ size, whyNot }) => (whyNot ? [[size, whyNot] as const] : []))).entries()];
  const taken = new Map(mix.pools.map((pool) => [pool.name, pool]));
  const order = new Map(offers.offers.map(({ name }, i) => [name, i]));
  const set = (offer: MixOffer, pool: Pool | null) =>
    onPools(
      [...mix.pools.filter(({ name }) => name !== offer.name), ...(pool ? [pool] : [])].sort(
        (a, b) => (order.get(a.name) ?? 0) - (order.get(b.name) ?? 0),
      ),
    );
  const [pictured, setPictured] = useState<MixOffer | null>(null);
  const capOf = (pool: Pool | undefined, offer: MixOffer) =>
    pool ? (cap: number | null) => set(offer, withCap(pool, offer, cap)) : null;
  return (
    <div className="overflow-x-auto">
      <table className="w-full text-[13px]">
        <caption className="sr-only">Pools</caption>
        <thead>
          <tr className="border-lines border-b text-left">
            <th className="pr-2 font-semibold">Size and zone</th>
            <th className="pr-2 text-right font-semibold">units</th>
            <th className="pr-2 text-right font-semibold">{offers.currency} a unit-hour</th>
            <th className="pr-2 text-right font-semibold">of full price</th>
            <th className="pr-2 font-semibold">price so far</th>
            <th className="pr-2 font-semibold">cap a machine-hour</th>
            <th className="pr-2 text-right font-semibold">evictions a machine-week</th>
            <th
              className="pr-2 font-semibold"
              title="Evictions in machine-hours, and what nine of ten rates that fit them lie between"
            >
              seen in machine-hours
            </th>
            <th className="font-semibold">by hour</th>
          </tr>
        </thead>
        <tbody>
          {possible.map((offer) => (
            <Row
              key={offer.name}
              offer={offer}
              pool={taken.get(offer.name) ?? null}
              firmPrice={offers.firmPrice}
              isPictured={pictured?.name === offer.name}
              onPicture={() => setPictured((before) => (before?.name === offer.name ? null : offer))}
              onPool={(pool) => set(offer, pool)}
            />
          ))}
        </tbody>
      </table>
      {pictured && (
        <>
          <PricePicture
            offer={pictured}
            cap={taken.get(pictured.name)?.cap ?? null}
            currency={offers.currency}
            onCap={capOf(taken.get(pictured.name), pictured)}
          />
          <PoolRates offer={pictured} pool={taken.get(pictured.name) ?? null} onPool={(pool) => set(pictured, pool)} />
        </>
      )}
      {refused.length > 0 && (
        <p className="mt-1 text-[13px] text-soft">Not as spot: {refused.map(([size, why]) => `${size} (${why})`).join("; ")}.</p>
      )}
    </div>
  );
}

type RowProps = Readonly<{
  offer: MixOffer;
  pool: Pool | null;
  firmPrice: number;
  isPictured: boolean;
  onPicture: () => void;
  onPool: (pool: Pool | null) => void;
}>;

/** More often than every second is no rate. */
const RATE_MAX = 3_600;

function Row({ offer, pool, firmPrice, isPictured, onPicture, onPool }: RowProps) {
  const perUnit = offer.price / offer.units;
  const { rate } = offer;
  const cap = pool?.cap ?? null;
  const byHand = pool && typeof pool.hazard === "number" ? pool.hazard : null;
  return (
    <tr className="h-[30px] border-lines border-b">
      <td className="whitespace-nowrap pr-2">
        <label className="flex items-center gap-2">
          <input type="checkbox" checked={pool !== null} onChange={() => onPool(pool ? null : poolOf(offer))} />
          <span className={pool ? "font-semibold" : ""}>{offer.name}</span>
        </label>
      </td>
      <td className="pr-2 text-right tabular-nums">{offer.units}</td>
      <td className="pr-2 text-right tabular-nums">{perUnit.toFixed(4)}</td>
      <td className="pr-2 text-right tabular-nums">{Math.round((100 * perUnit) / firmPrice)} %</td>
      <td className="pr-2">
        <button
          type="button"
          aria-expanded={isPictured}
          aria-label={`Price of ${offer.name}, with its cap`}
          className="cursor-pointer rounded-[3px] border border-transparent hover:border-ink aria-expanded:border-ink"
          onClick={onPicture}
        >
          <Spark
            values={offer.prices}
            cap={cap}
            words={`between ${Math.min(...offer.prices)} and ${Math.max(...offer.prices)}`}
          />
        </button>
      </td>
      <td className="whitespace-nowrap pr-2">
        <DecimalCell
          label={`Cap of ${offer.name}`}
          title="Above it its machines go and none can be had; the price then moves as it did in the last week"
          placeholder="none"
          value={cap}
          isDisabled={!pool}
          isFine={(typed) => typed > 0}
          onValue={(typed) => pool && onPool(withCap(pool, offer, typed))}
        />
        {cap !== null && <span className="text-soft"> {Math.round(100 * shareUnder(offer, cap))} % of hours under it</span>}
      </td>
      <td className="pr-2 text-right tabular-nums">
        <DecimalCell
          label={`Evictions a machine-week of ${offer.name}`}
          title="What was seen says this; type over it to see what changes, empty it to go back"
          placeholder={(rate.mean * WEEK_HOURS).toFixed(2)}
          value={byHand === null ? null : Math.round(byHand * WEEK_HOURS * 1000) / 1000}
          isDisabled={!pool}
          isFine={(typed) => typed >= 0 && typed <= RATE_MAX * WEEK_HOURS}
          onValue={(typed) =>
            pool && onPool({ ...pool, hazard: typed === null ? { shape: rate.shape, rate: rate.rate } : typed / WEEK_HOURS })
          }
        />
      </td>
      <td
        className="whitespace-nowrap pr-2 text-soft"
        title={`Prior and evidence: Gamma(${rate.shape}, ${rate.rate.toFixed(0)} machine-hours)`}
      >
        {byHand === null
          ? `${offer.machineHours > 0 ? evidenceWords(offer) : "nothing seen yet"}: ${(rate.p5 * WEEK_HOURS).toFixed(2)} to ${(rate.p95 * WEEK_HOURS).toFixed(2)}`
          : `set by hand; seen ${(rate.mean * WEEK_HOURS).toFixed(2)}`}
        {" · "}
        <button type="button" className="underline" aria-label={`Waves and spells of ${offer.name}`} onClick={onPicture}>
          {seenWords(offer)}
        </button>
      </td>
      <td>
        <HourBars counts={offer.byHour} />
      </td>
    </tr>
  );
}

function evidenceWords({ evictions, machineHours }: MixOffer): string {
  return `${evictions} in ${Math.round(machineHours).toLocaleString("en").replaceAll(",", "\u202f")}`;
}

function seenWords({ waves, spells }: MixOffer): string {
  const counts = [
    [waves.count, "wave"],
    [spells.count, "dry spell"],
  ] as const;
  const seen = counts.flatMap(([count, what]) => (count > 0 ? [`${count} ${what}${count === 1 ? "" : "s"}`] : []));
  return seen.length > 0 ? seen.join(", ") : "waves, spells";
}

function Spark({ values, cap, words }: { values: readonly number[]; cap: number | null; words: string }) {
  const top = Math.max(...values, cap ?? 0) || 1;
  const step = Math.max(1, Math.floor(values.length / 56));
  const points = values.filter((_, i) => i % step === 0);
  const d = points.map(
    (value, i) => `${i === 0 ? "M" : "L"}${((i / (points.length - 1)) * 80).toFixed(1)},${(19 - (value / top) * 18).toFixed(1)}`,
  );
  return (
    <svg role="img" aria-label={words} width={80} height={20}>
      <title>{words}</title>
      <path d={d.join("")} fill="none" stroke="var(--ink)" />
      {cap !== null && <path d={`M0,${19 - (cap / top) * 18}H80`} stroke="var(--attention)" strokeDasharray="3 2" />}
    </svg>
  );
}

function HourBars({ counts }: { counts: readonly number[] }) {
  const top = Math.max(1, ...counts);
  const worst = counts.indexOf(Math.max(...counts));
  const words = counts.every((count) => count === 0) ? "no eviction was seen" : `most at ${worst}:00 UTC: ${counts[worst]}`;
  return (
    <svg role="img" aria-label={words} width={72} height={20}>
      <title>{words}</title>
      {counts.map((count, h) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: an hour is its place
        <rect key={h} x={h * 3} width={2} y={19 - (count / top) * 18} height={(count / top) * 18 + 1} fill="var(--loss)" />
      ))}
    </svg>
  );
}
