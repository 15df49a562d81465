"use client";
import { useEffect, useState } from "react";
import type { Instant } from "@/core/time";

export type Reading = Readonly<{ now: Instant; rate: number; isDemo: boolean }>;

/** The application's time as it goes on from a reading, redrawn four times a second. */
export function useTicking(reading: Reading): Instant {
  const [now, setNow] = useState(reading.now);
  useEffect(() => {
    const start = Date.now();
    setNow(reading.now);
    const timer = setInterval(() => setNow(Math.floor(reading.now + ((Date.now() - start) / 1000) * reading.rate)), 250);
    return () => clearInterval(timer);
  }, [reading]);
  return now;
}
