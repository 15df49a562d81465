"use client";
import { useEffect, useRef, useState } from "react";
import type { Instant } from "@/core/time";

export type Reading = Readonly<{ now: Instant; rate: number; isDemo: boolean; waitAt: Instant | null }>;

/** The application's time as it goes on from a reading, no further than where it waits for rounds, redrawn four times a second. */
export function useTicking(reading: Reading): Instant {
  const [now, setNow] = useState(reading.now);
  useEffect(() => {
    const start = Date.now();
    setNow(reading.now);
    const { waitAt } = reading;
    const timer = setInterval(() => {
      const running = Math.floor(reading.now + ((Date.now() - start) / 1000) * reading.rate);
      setNow(waitAt === null ? running : Math.min(running, waitAt));
    }, 250);
    return () => clearInterval(timer);
  }, [reading]);
  return now;
}

/** How many seconds of the clock really pass in one, over the last seconds that were looked at; null where that is not known yet. */
export function useSpeed({ now, rate }: Reading): number | null {
  const seen = useRef<{ rate: number; looks: { at: number; now: Instant }[] }>({ rate, looks: [] });
  const [speed, setSpeed] = useState<number | null>(null);
  useEffect(() => {
    if (seen.current.rate !== rate) {
      seen.current = { rate, looks: [] };
      setSpeed(null);
    }
    const { looks } = seen.current;
    looks.push({ at: Date.now(), now });
    while (looks.length > 2 && Date.now() - (looks[0]?.at ?? 0) > SPEED_MS) looks.shift();
    const [first] = looks;
    const passedMs = Date.now() - (first?.at ?? 0);
    if (first && passedMs > SPEED_MS / 4) setSpeed(((now - first.now) * 1000) / passedMs);
  }, [now, rate]);
  return speed;
}

const SPEED_MS = 8_000;
