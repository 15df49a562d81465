import type { Fan, FrontierPoint, Mix, MixChoice, MixFigures } from "@/core/mix";

export type Ask =
  | Readonly<{ kind: "simulate"; id: number; mix: Mix; days: number; seed: number }>
  | Readonly<{ kind: "frontier"; id: number; mix: Mix; days: number; seed: number; choices: readonly MixChoice[] }>
  | Readonly<{ kind: "cancel"; of: "simulate" | "frontier" }>;

/** What the trials so far come to; `isDone` with the last of them. */
export type Simulated = Readonly<{ figures: MixFigures; fan: Fan; trials: number; isDone: boolean }>;

export type Answer =
  | (Readonly<{ kind: "simulated"; id: number }> & Simulated)
  | Readonly<{ kind: "points"; id: number; points: readonly FrontierPoint[] }>
  | Readonly<{ kind: "failed"; id: number; message: string }>;
