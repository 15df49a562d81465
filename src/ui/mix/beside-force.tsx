"use client";
import type { Mix } from "@/core/mix";
import { Figures, type FiguresProps } from "./figures";
import { useMix } from "./use-mix";

export type BesideForceProps = Omit<FiguresProps, "inForce"> & Readonly<{ mix: Mix | null; days: number }>;

/** The figures of a draft beside those of the mix in force, simulated by the same prices and hours. */
export function BesideForce({ mix, days, ...figures }: BesideForceProps) {
  const { simulated } = useMix(mix, days);
  return <Figures {...figures} inForce={simulated?.figures ?? null} />;
}
