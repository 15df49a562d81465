"use client";
import type { Mix } from "@/core/mix";
import { Figures, type FiguresProps } from "./figures";
import { type Over, useMix } from "./use-mix";

export type BesideForceProps = Omit<FiguresProps, "inForce"> & Readonly<{ mix: Mix | null; over: Over }>;

const NO_MONTHS = [] as const;

/** The figures of a draft beside those of the mix in force, simulated by the same prices and hours. */
export function BesideForce({ mix, over, ...figures }: BesideForceProps) {
  const { simulated } = useMix(mix, over, NO_MONTHS);
  return <Figures {...figures} inForce={simulated?.figures ?? null} />;
}
