import { type Pool, wavesAndSpells } from "@/core/mix";
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
/** What stands beside a rate that was set where nothing was seen: to be typed over, like the rate. */
const SHARE = 0.5;
const DRY_HOURS = 4;

/** How a pool goes besides machine by machine: in waves, and dry for spells. What was seen counts until it is typed over. */
export function PoolRates({ offer, pool, onPool }: PoolRatesProps) {
  const seen = wavesAndSpells(offer);
  const { waves, spells } = offer;
  const cell = (key: keyof Pool & string, given: Pick<CellProps, "label" | "title" | "scale" | "most">) => (
    <Cell
      {...given}
      of={offer.name}
      value={pool ? (pool[key] as number | null) : null}
      seen={(seen as Partial<Record<string, number | null>>)[key] ?? null}
      isDisabled={pool === null}
      onValue={(value) => pool && onPool({ ...pool, ...beside(pool, key, value), [key]: value })}
    />
  );
  const beside = (own: Pool, key: string, value: number | null): Partial<Pool> => {
    if (value === null) return {};
    if (key === "reclaimRate" && (own.reclaimShare ?? seen.reclaimShare) === null) return { reclaimShare: SHARE };
    if (key === "availableHours" && (own.dryHours ?? seen.dryHours) === null) return { dryHours: DRY_HOURS };
    return {};
  };
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
        <span className="text-soft"> · {waves ? `${waves.count} seen in its size` : "none seen"}</span>
      </dd>
      <dt className="font-semibold">Spells</dt>
      <dd>
        to be had for{" "}
        {cell("availableHours", { label: "Hours to be had", title: "In the mean; 0 is never", scale: 1, most: HOURS_MAX })} h,
        then dry for {cell("dryHours", { label: "Hours dry", title: "In the mean", scale: 1, most: HOURS_MAX })} h; while dry its
        machines go{" "}
        {cell("dryHazardFactor", { label: "Sooner while dry", title: "1 where nothing is typed", scale: 1, most: 1_000 })} times
        as soon
        <span className="text-soft"> · {spells ? `${spells.count} dry ones seen` : "no order was refused"}</span>
      </dd>
    </dl>
  );
}

type CellProps = Readonly<{
  label: string;
  title: string;
  of: string;
  value: number | null;
  seen: number | null;
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
      placeholder={seen === null ? "none" : String(shown(seen))}
      value={value === null ? null : shown(value)}
      isDisabled={isDisabled}
      isFine={(typed) => typed >= 0 && typed <= most}
      onValue={(typed) => onValue(typed === null ? null : typed / scale)}
    />
  );
}
