"use client";
import { useEffect, useState } from "react";
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
