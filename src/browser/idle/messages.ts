import type { Envelope, EnvelopeAsked, HoursOver, IdleRule, Point, SamplesHead, Trip } from "@/core/idle";
import type { Instant } from "@/core/time";

/** The hours of each resource, by its place: those that follow the same share one. */
export type HoursBy = Readonly<{ isByHand: boolean; list: readonly HoursOver[]; of: readonly (number | null)[] }>;

export type Ask =
  | Readonly<{ kind: "load"; buffer: ArrayBuffer }>
  | Readonly<{ kind: "try"; id: number; rules: readonly IdleRule[]; hours: HoursBy; edges: readonly Instant[] }>
  | Readonly<{ kind: "picture"; id: number; asked: EnvelopeAsked }>
  | Readonly<{
      kind: "sweep";
      id: number;
      rules: readonly IdleRule[];
      /** Which rule, and which of its conditions, by their places. */
      rule: number;
      condition: number;
      thresholds: readonly number[];
      windows: readonly number[];
      hours: HoursBy;
      edges: readonly Instant[];
      /** What a second off saves of each resource, in millionths of the currency. */
      rates: readonly (number | null)[];
    }>
  | Readonly<{ kind: "cancel" }>;

/** What rules make of one resource over the weeks that are tried. */
export type TriedResource = Readonly<{
  offS: readonly number[];
  interruptions: readonly number[];
  /** Seconds off by UTC hour of the week, in the mean. */
  byHour: readonly number[];
  /** Rule by rule. */
  trips: readonly (readonly Trip[])[];
}>;

/** A metric over time, and which. */
export type Picture = Envelope & Readonly<{ metric: string }>;

/** A point as the ledger counts it: whole weeks, only what would be on, all rules of the fleet together. */
export type SweepPoint = Point & Readonly<{ saved: number }>;

export type Answer =
  | Readonly<{ kind: "loaded"; head: SamplesHead }>
  | Readonly<{ kind: "tried"; id: number; resources: readonly TriedResource[] }>
  | Readonly<{ kind: "picture"; id: number; picture: Picture }>
  | Readonly<{ kind: "progress"; id: number; done: number; of: number }>
  | Readonly<{ kind: "swept"; id: number; points: readonly SweepPoint[]; weeks: number }>
  | Readonly<{ kind: "failed"; id: number; message: string }>;
