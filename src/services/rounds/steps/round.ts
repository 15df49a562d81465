import type { Level } from "@/core/hours";
import type { ClosedReason, Decision, HeldStop, HeldStops, HoursObserved, OverrideChanges } from "@/core/rounds";
import type { Instant } from "@/core/time";
import type { Action, AlarmNews, Lead, MixMember, NewAction, RoundMode, StoredOverride } from "@/store";
import type { Services } from "../../admin";
import type { Snapshot } from "../../inventory";
import type { Decided } from "../round-input";
import type { Tried } from "../send-actions";

/** What a round is, from its beginning to its end. */
export type Round = Readonly<{
  services: Services;
  id: number;
  lead: Lead;
  mode: RoundMode;
  fleet: string | null;
  now: Instant;
  startedMs: number;
}>;

/** What a round has read, and what has become of it so far. Each thing is read once; later steps see what earlier ones changed. */
export type RoundState = Readonly<{
  now: Instant;
  isRehearsal: boolean;
  /** The machines of this fleet alone; null: everything. */
  fleet: string | null;
  snapshot: Snapshot;
  /** In effect now or later, the last placed first. */
  overrides: readonly StoredOverride[];
  /** Accounts in which nothing may be done, with the reason. */
  closed: ReadonlyMap<string, ClosedReason>;
  /** Actions that have not ended. */
  open: readonly Action[];
  /** Stops that are held until a person has spoken. */
  held: HeldStops;
  /** The machines that mixes have. */
  members: readonly MixMember[];
  /** The last round that looked at everything; null before the first. */
  before: Instant | null;
  /** The counter of what may speak against what is decided, as of what was read. */
  rules: string;
  decided: Decided;
  /** How many decisions differ from those before. */
  changed: number;
  tried: Tried;
  /** How often something was asked for to keep mixes. */
  kept: number;
}>;

/** An action that has come to its end. */
export type EndedAction = Readonly<{ action: Action; status: Action["status"]; lastAnswer: string }>;

/** What a step changes: what is to be written, and what later steps are to see. All of it is applied in one place. */
export type Changes = Readonly<{
  overrides?: OverrideChanges;
  alarms?: AlarmNews;
  ended?: readonly EndedAction[];
  /** The due level that was acted on last, by resource. */
  lastDue?: ReadonlyMap<string, Level>;
  decisions?: readonly Decision[];
  actions?: readonly NewAction[];
  /** What hours said, by resource; null: nothing is remembered of it any more. */
  hoursSeen?: ReadonlyMap<string, HoursObserved | null>;
  /** Stops that are held from now on, by resource; null: no more. */
  heldStops?: ReadonlyMap<string, HeldStop | null>;
  state?: Partial<RoundState>;
}>;

export const NO_CHANGES: Changes = {};

export type StepName =
  | "read"
  | "settle"
  | "idle"
  | "starts"
  | "sign-ins"
  | "pools"
  | "decide"
  | "record"
  | "send"
  | "mix"
  | "tell";

/** One step of a round, without what it needs to know of itself. */
export type Step = Readonly<{
  name: StepName;
  /** Whether a rehearsal takes it, too. */
  isRehearsed: boolean;
  take: (round: Round, state: RoundState) => Promise<Changes>;
}>;

/**
 * A step: `ask` gets what it needs besides what the round has read (from the store, a provider), nothing that another step has
 * asked for; `follow` says from plain data what that changes, and is pure.
 */
export function step<F>({
  ask,
  follow,
  ...named
}: Omit<Step, "take"> &
  Readonly<{ ask: (round: Round, state: RoundState) => Promise<F>; follow: (state: RoundState, facts: F) => Changes }>): Step & {
  follow: (state: RoundState, facts: F) => Changes;
} {
  return { ...named, follow, take: async (round, state) => follow(state, await ask(round, state)) };
}

/** For a step that needs nothing but what the round has read. */
export const nothing = async (): Promise<null> => null;
