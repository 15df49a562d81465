"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import type { Instant } from "@/core/time";
import { dayAndTime, placeOf } from "../kit/when";
import { SHOWN_ZONES } from "./shown-zones";

const NONE = "none";
const YEAR_S = 366 * 86_400;

export type ChosenZones = Readonly<{ shown: readonly string[]; choose: (i: number, zone: string) => void }>;

/** The one or two zones the strip is shown in; a choice is kept in a cookie, and the page is told in it at once. */
export function useZones(first: readonly string[]): ChosenZones {
  const router = useRouter();
  const [shown, setShown] = useState(first);
  const choose = (i: number, zone: string) => {
    const next = i === 0 ? [zone, ...shown.slice(1)] : zone === NONE ? shown.slice(0, 1) : [shown[0] as string, zone];
    setShown(next);
    // biome-ignore lint/suspicious/noDocumentCookie: the cookie store is not in every browser yet
    document.cookie = `${SHOWN_ZONES}=${next.join(",")}; path=/; max-age=${YEAR_S}; samesite=lax`;
    router.refresh();
  };
  return { shown, choose };
}

export type ZonesProps = { now: Instant; zones: readonly string[]; chosen: ChosenZones };

/** The time, in one zone or in two, one above the other. */
export function Zones({ now, zones, chosen }: ZonesProps) {
  const { shown, choose } = chosen;
  const second = shown[1];
  return (
    <div className="w-[236px] shrink-0">
      <Row label="Shown in" zone={shown[0] as string} now={now} zones={zones} onChoose={(zone) => choose(0, zone)} isFirst />
      <Row label="And in" zone={second ?? NONE} now={now} zones={[NONE, ...zones]} onChoose={(zone) => choose(1, zone)} />
    </div>
  );
}

type RowProps = {
  label: string;
  zone: string;
  now: Instant;
  zones: readonly string[];
  onChoose: (zone: string) => void;
  isFirst?: boolean;
};

function Row({ label, zone, now, zones, onChoose, isFirst = false }: RowProps) {
  return (
    <div className="flex h-[27px] items-center gap-2">
      <p
        className={`w-[132px] whitespace-nowrap ${isFirst ? "font-bold text-[16px]" : "text-[15px]"}`}
        {...(isFirst ? { "data-testid": "clock" } : {})}
      >
        {zone === NONE ? "" : dayAndTime(now, zone)}
      </p>
      <select
        aria-label={label}
        className="h-[24px] min-w-0 flex-1 rounded-brick border border-ink/40 bg-raised px-1 text-[12px]"
        value={zone}
        onChange={(event) => onChoose(event.target.value)}
      >
        {zones.map((value) => (
          <option key={value} value={value}>
            {value === NONE ? "+ zone" : placeOf(value)}
          </option>
        ))}
      </select>
    </div>
  );
}
