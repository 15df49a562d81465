import type { Fan, FrontierPoint, Mix, MixChoice, MixFigures, SeenPrices } from "@/core/mix";

/** A mix over the days to come, and what its pools cost so far: what they will cost is drawn from it. */
export type Laid = Readonly<{ mix: Mix; days: number; prices: SeenPrices }>;

export type Ask =
  | Readonly<{ kind: "simulate"; id: number; seed: number } & Laid>
  | Readonly<{ kind: "frontier"; id: number; seed: number; choices: readonly MixChoice[] } & Laid>
  | Readonly<{ kind: "months"; id: number; seed: number; months: readonly Laid[] }>
  | Readonly<{ kind: "cancel"; of: "simulate" | "frontier" | "months" }>;

/** What the trials so far come to; `isDone` with the last of them. */
export type Simulated = Readonly<{ figures: MixFigures; fan: Fan; trials: number; isDone: boolean }>;

export type Answer =
  | (Readonly<{ kind: "simulated"; id: number }> & Simulated)
  | Readonly<{ kind: "months"; id: number; figures: readonly MixFigures[] }>
  | Readonly<{ kind: "points"; id: number; points: readonly FrontierPoint[] }>
  | Readonly<{ kind: "failed"; id: number; message: string }>;
