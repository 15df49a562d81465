import { formatInstant, type Instant } from "../time";
import type { IdleRule } from "./rule";

/** Why an alarm stands as it does. Windows and steps in minutes; values in the metric's own unit. */
export type AlarmReason =
  | Readonly<{ code: "nothing seen" | "not running" | "in use" | "too old to act on" | "tripped" | "holds" }>
  | Readonly<{ code: "paused"; person: string; until: Instant; reason: string }>
  | Readonly<{ code: "held on"; until: Instant; reason: string }>
  /** Of which metrics; none named where it is so of all. */
  | Readonly<{ code: "no sample known"; metrics: readonly string[] }>
  | Readonly<{ code: "silent" | "settling" | "started" | "risen"; at: Instant }>
  | Readonly<{ code: "odd window"; window: number; step: number }>
  | Readonly<{ code: "outside its hours"; applies: IdleRule["applies"] }>
  | Readonly<{ code: "window not full"; startedAt: Instant; window: number }>
  | Readonly<{ code: "coverage"; present: number; of: number; least: number; metric: string }>
  | UnlikeUsual
  /** What a person did, or what was written down before reasons were facts. */
  | Readonly<{ code: "said"; words: string }>;

/** All samples of a window are further from what the metric usually is than use explains: below its usual low, or above its high. */
export type UnlikeUsual = Readonly<{
  code: "unlike usual";
  metric: string;
  side: "below" | "above";
  value: number;
  usual: number;
}>;

/** True where two say the same of the same; the data of a reason is flat. */
export function isSameReason(a: AlarmReason, b: AlarmReason): boolean {
  if (a === b) return true;
  const other: Readonly<Record<string, unknown>> = b;
  return a.code === b.code && Object.entries(a).every(([key, value]) => String(value) === String(other[key]));
}

/** Why an alarm stands as it does, in a sentence; `rule` is its rule in words. Instants are in UTC. */
export function alarmReasonWords(reason: AlarmReason, rule: string): string {
  switch (reason.code) {
    case "nothing seen":
      return "";
    case "not running":
      return "it does not run";
    case "in use":
      return "in use";
    case "too old to act on":
      return "it held too long ago to act on";
    case "tripped":
      return `tripped: ${rule}`;
    case "holds":
      return rule;
    case "paused":
      return `paused by ${reason.person} until ${formatInstant(reason.until)}: ${reason.reason}`;
    case "held on":
      return `held on until ${formatInstant(reason.until)}: ${reason.reason}`;
    case "no sample known":
      return `no sample ${reason.metrics.length === 0 ? "" : `of ${reason.metrics.join(" or ")} `}is known`;
    case "silent":
      return `no sample since ${formatInstant(reason.at)}`;
    case "settling":
      return `it settles until ${formatInstant(reason.at)}`;
    case "started":
      return `it started at ${formatInstant(reason.at)}: no sample since`;
    case "risen":
      return `its hours began at ${formatInstant(reason.at)}, before it was seen that it was idle`;
    case "odd window":
      return `a window of ${reason.window} min is no whole multiple of the step of ${reason.step} min`;
    case "outside its hours":
      return `it applies ${reason.applies} hours alone`;
    case "window not full":
      return `it started at ${formatInstant(reason.startedAt)}: ${reason.window} min of samples are needed`;
    case "coverage":
      return `coverage ${(reason.present / reason.of).toFixed(2)} of ${reason.least}: ${reason.metric}`;
    case "unlike usual":
      return unlikeWords(reason);
    case "said":
      return reason.words;
  }
}

function unlikeWords({ metric, side, value, usual }: UnlikeUsual): string {
  const [is, never] = side === "below" ? ["at most", "below"] : ["at least", "above"];
  return `${metric} is ${is} ${shown(value)}, on its last days never ${never} ${shown(usual)}: has its unit changed?`;
}

function shown(value: number): string {
  return String(Number(value.toPrecision(2)));
}
