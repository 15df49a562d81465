import type { Level } from "../hours";
import type { Resource } from "../plan";
import type { Instant } from "../time";
import type { WantedNote } from "./action";
import type { Lack } from "./doubt";
import type { HoursOf } from "./hours-of";
import type { Override, OverrideKind, RuleName } from "./override";

/** What the hours of one fleet and schedule say now, by which row (null: outside all) and how many minutes ahead. */
export type HoursSaid = Readonly<{
  code: "hours";
  schedule: string;
  zone: string;
  level: Level | null;
  row: string | null;
  aheadMinutes: number;
}>;

/** Why a rule speaks, or does not. */
export type RuleReason =
  | Readonly<{ code: "guarded" | "not guarded" | "no rule" | "no fleet" }>
  | Readonly<{ code: "no override"; kind: OverrideKind }>
  | (Readonly<{ code: "override" }> & Pick<Override, "kind" | "level" | "from" | "to" | "reason">)
  | HoursSaid
  | (Readonly<{ code: "no hours" }> & Readonly<{ of: Exclude<HoursOf, { kind: "schedule" }> }>)
  | Readonly<{ code: "said by hand"; person: string; words: string }>;

/** A rule that was considered, and what it found. */
export type RuleRead = Readonly<{ rule: RuleName | "fleet" | "by hand"; applies: boolean; reason: RuleReason }>;

/** Why nothing may be done in an account. What a provider or a person said is data, and decides nothing. */
export type ClosedReason =
  | Readonly<{ code: "unread" | "feed unread"; error: string }>
  | Readonly<{ code: "doubted"; lack: Lack; needsPerson: boolean }>
  | Readonly<{ code: "paused"; person: string; reason: string; isHere: boolean }>;

/** One of the things that make a decision what it is, in their order. */
export type Reason =
  | RuleReason
  | ClosedReason
  | Readonly<{ code: "set aside"; error: string }>
  | Readonly<{ code: "is"; state: Resource["state"] }>
  | Readonly<{ code: "in transit"; state: Resource["state"] }>
  | Readonly<{ code: "started by hand only" | "acted on at this edge" | "its block is paid for" }>
  /** It goes now, since a stop at the edge itself would begin another block. */
  | Readonly<{ code: "before the block ends" | "too short to start"; because: RuleReason; at: Instant }>
  | Readonly<{ code: "asked again later"; verb: string; answer: string }>
  | WantedNote
  | Readonly<{ code: "over the limit of stops"; limit: number }>
  | Readonly<{ code: "unforeseen stops" }>
  | Readonly<{ code: "mix kept"; units: number }>
  | Readonly<{ code: "members up"; up: number; wanted: number }>
  | Readonly<{ code: "stopped by hand"; words: string }>;

/** What the rule that decided found, of a chain of rules. */
export function decidingReason({ chain, decidedBy }: Readonly<{ chain: readonly RuleRead[]; decidedBy: string }>): RuleReason {
  return (chain.find(({ rule, applies }) => applies && rule === decidedBy) ?? chain.at(-1))?.reason ?? { code: "no rule" };
}
