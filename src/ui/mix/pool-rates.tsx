import { meanHours, meanRate, meanShare, type Pool, wavesAndSpells } from "@/core/mix";
import { WEEK_HOURS } from "@/core/time";
import type { MixOffer } from "@/services/mix";
import { DecimalCell } from "../kit/decimal-cell";

export type PoolRatesProps = Readonly<{
  offer: MixOffer;
  /** Null where the pool is not taken: nothing of it can be set. */
  pool: Pool | null;
  onPool: (pool: Pool) => void;
}>;

/** More often than every second is no rate; a hundred years is no spell. */
const WAVES_MAX = 3_600 * WEEK_HOURS;
const HOURS_MAX = 876_000;

/** A person says numbers; what is learned is none of theirs. */
const said = (value: unknown): number | null => (typeof value === "number" ? value : null);

/** How a pool goes besides machine by machine: in waves, and dry for spells. What is known counts until it is typed over. */
export function PoolRates({ offer, pool, onPool }: PoolRatesProps) {
  const known = wavesAndSpells(offer);
  const seen = {
    reclaimRate: meanRate(known.reclaimRate ?? 0),
    reclaimShare: meanShare(known.reclaimShare ?? 0),
    availableHours: meanHours(known.availableHours ?? 0),
    dryHours: meanHours(known.dryHours ?? 0),
    dryHazardFactor: meanRate(known.dryHazardFactor ?? 1),
  };
  const { waves, spells } = offer;
  const cell = (key: keyof typeof seen, given: Pick<CellProps, "label" | "title" | "scale" | "most">) => (
    <Cell
      {...given}
      of={offer.name}
      value={said(pool?.[key])}
      seen={seen[key]}
      isDisabled={pool === null}
      onValue={(value) => pool && onPool({ ...pool, [key]: value })}
    />
  );
  return (
    <dl className="mb-2 grid max-w-[900px] grid-cols-[auto_1fr] gap-x-3 gap-y-1 text-[13px]" data-testid="pool-rates">
      <dt className="font-semibold">Waves</dt>
      <dd>
        {cell("reclaimRate", {
          label: "Waves a week",
          title: "How often several go at once",
          scale: WEEK_HOURS,
          most: WAVES_MAX,
        })}{" "}
        a week, each takes{" "}
        {cell("reclaimShare", { label: "Per cent that a wave takes", title: "Of its machines", scale: 100, most: 100 })} % of it
        <span className="text-soft"> · {waves.count > 0 ? `${waves.count} seen in its size` : "none seen yet in its size"}</span>
      </dd>
      <dt className="font-semibold">Spells</dt>
      <dd>
        to be had for{" "}
        {cell("availableHours", { label: "Hours to be had", title: "In the mean; 0 is never", scale: 1, most: HOURS_MAX })} h,
        then dry for {cell("dryHours", { label: "Hours dry", title: "In the mean", scale: 1, most: HOURS_MAX })} h; while dry its
        machines go{" "}
        {cell("dryHazardFactor", {
          label: "Sooner while dry",
          title: "By what was seen, until it is typed over",
          scale: 1,
          most: 1_000,
        })}{" "}
        times as soon
        <span className="text-soft"> · {spells.count > 0 ? `${spells.count} dry ones seen` : "no order was refused yet"}</span>
      </dd>
    </dl>
  );
}

type CellProps = Readonly<{
  label: string;
  title: string;
  of: string;
  value: number | null;
  seen: number;
  /** What is shown for one of what is stored. */
  scale: number;
  most: number;
  isDisabled: boolean;
  onValue: (value: number | null) => void;
}>;

function Cell({ label, title, of, value, seen, scale, most, isDisabled, onValue }: CellProps) {
  const shown = (stored: number) => Math.round(stored * scale * 100) / 100;
  return (
    <DecimalCell
      label={`${label}, ${of}`}
      title={title}
      placeholder={String(shown(seen))}
      value={value === null ? null : shown(value)}
      isDisabled={isDisabled}
      isFine={(typed) => typed >= 0 && typed <= most}
      onValue={(typed) => onValue(typed === null ? null : typed / scale)}
    />
  );
}
