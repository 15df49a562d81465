"use client";
import { usePathname, useRouter, useSearchParams } from "next/navigation";
import { useCallback, useEffect, useState } from "react";
import { formatInstant, type Instant, tryParseInstant } from "@/core/time";
import type { TimeStrip as Strip } from "@/services/cost";
import { atAddress, nowAddress } from "../as-of/address";
import { ask } from "../kit/ask";
import { useLive } from "../kit/use-live";
import { useMoneyView } from "../money/use-view";
import { Bars } from "./bars";
import { type Reading, useTicking } from "./clock";
import { DemoControl } from "./demo-control";
import { useZones, Zones } from "./zones";

const HOUR = 3600;

export type TimeStripProps = { reading: Reading; zones: readonly string[]; shown: readonly string[] };

/** 48 hours around now: what ran, and what is due to run, as money per hour. Its handle sets the instant the application answers as of. */
export function TimeStrip({ reading: first, zones, shown }: TimeStripProps) {
  const router = useRouter();
  const path = usePathname();
  const params = useSearchParams();
  const [reading, setReading] = useState(first);
  const [strip, setStrip] = useState<Strip | null>(null);
  const chosen = useZones(shown);
  const now = useTicking(reading);
  const hour = Math.floor(now / HOUR);
  const at = tryParseInstant(params.get("at") ?? "");
  const view = useMoneyView();

  const load = useCallback(() => {
    const asked = new URLSearchParams();
    if (at !== null) asked.set("at", formatInstant(at));
    if (view === "before") asked.set("money", view);
    ask<Strip>(`/api/strip?${asked}`).then(setStrip, () => {});
  }, [at, view]);
  const readClock = useCallback(() => {
    ask<Reading>("/api/clock").then(setReading, () => {});
  }, []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new hour moves the strip
  useEffect(load, [load, hour]);
  useLive(["round", "fleets", "holds", "spend"], load, 1000);
  // A clock that runs fast goes on from round to round.
  useLive(reading.rate > 1 ? ["round"] : [], readClock, 300);
  useLive(["clock"], () => {
    readClock();
    router.refresh();
  });
  const here = `${path}?${params}`;
  const go = (to: Instant | null) =>
    router.push(to === null ? nowAddress(here) : atAddress(nowAddress(here), { at: formatInstant(to), money: null }), {
      scroll: false,
    });
  const jump = "h-6 rounded-brick border border-ink/40 bg-raised px-1.5 text-[12px] disabled:opacity-55";

  return (
    <section
      aria-label="Time"
      className="flex items-stretch gap-3 border-lines border-b bg-raised px-4 py-1.5 max-lg:flex-wrap lg:h-[68px] print:hidden"
    >
      <Zones now={at ?? now} zones={zones} chosen={chosen} />
      <Bars strip={strip} now={now} zones={chosen.shown} at={at} onAt={go} />
      <fieldset className="flex flex-col gap-1">
        <legend className="sr-only">Go to</legend>
        <div className="flex gap-1">
          <button
            type="button"
            className={jump}
            disabled={strip?.previous == null}
            onClick={() => go(strip?.previous ?? null)}
            title="the edge before: when the level of a fleet in force changed"
          >
            ◂ edge
          </button>
          <button
            type="button"
            className={jump}
            disabled={strip?.next == null}
            onClick={() => go(strip?.next ?? null)}
            title="the next edge: when the level of a fleet in force changes"
          >
            edge ▸
          </button>
        </div>
        <button type="button" className={jump} disabled={at === null} onClick={() => go(null)}>
          back to now
        </button>
      </fieldset>
      {reading.isDemo && <DemoControl reading={reading} now={now} onReading={setReading} />}
    </section>
  );
}
