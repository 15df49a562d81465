import { type Level, OFF } from "../hours";
import { formatInstant } from "../time";
import { kindOfRule, type Override, type OverrideKind, type RuleName } from "./override";

/** A level in a word; null: leave it as it is. */
export function levelWord(level: Level | null): string {
  if (level === null) return "leave";
  return level === OFF ? "off" : level === 1 ? "on" : `level ${level}`;
}

/** The rule that decided, as it stands in a sentence after "by". */
export function byWords(rule: RuleName): string {
  const kind = kindOfRule(rule);
  return kind === "trip" ? `an ${rule}` : kind === "start" ? `a ${rule}` : rule;
}

/** What the chain of reasons says where no override of a kind is in effect. */
export function whyNone(kind: OverrideKind): string {
  switch (kind) {
    case "hold":
      return "no hold";
    case "trip":
      return "no idle alarm has tripped";
    case "start":
      return "nobody started it of late";
    case "ready":
      return "the pool goes by its hours here";
  }
}

/** What the chain of reasons says of an override in effect. Instants are in UTC. */
export function whyInEffect({
  kind,
  level,
  from,
  to,
  reason,
}: Pick<Override, "kind" | "level" | "from" | "to" | "reason">): string {
  switch (kind) {
    case "hold":
      return `${levelWord(level)} until ${formatInstant(to)}: ${reason}`;
    case "trip":
      return `tripped at ${formatInstant(from)}: ${reason}`;
    case "start":
      return `${reason}; kept until ${formatInstant(to)}`;
    case "ready":
      return reason;
  }
}

/** Why a thing is as it is while an override speaks for it, and whose doing that is. */
export function overriddenWords({ kind, person, reason }: Pick<Override, "kind" | "reason"> & { person: string }): string {
  switch (kind) {
    case "hold":
      return `held by ${person}: ${reason}`;
    case "trip":
      return `an idle alarm tripped: ${reason}`;
    case "start":
    case "ready":
      return reason;
  }
}

/** What an override makes of what it is on, in two or three words: what stands in a row. */
export function overriddenSign({ kind, level }: Readonly<{ kind: OverrideKind; level: number }>): string {
  switch (kind) {
    case "hold":
      return level === 0 ? "held off" : "held on";
    case "trip":
      return "an idle alarm tripped";
    case "start":
      return "started";
    case "ready":
      return level === 0 ? "not needed" : "ready";
  }
}

/** What an override makes of what it is on, in a list of overrides. */
export function listedWords({ kind, level }: Pick<Override, "kind" | "level">): string {
  if (kind === "hold") return levelWord(level);
  return kind === "start" ? "started by a person, kept" : overriddenSign({ kind, level });
}

/** What a press that ends one does, for a reader who hears it. */
export function endWords(kind: OverrideKind, name: string): string {
  switch (kind) {
    case "hold":
      return `Release the hold on ${name}`;
    case "trip":
      return `End the trip of ${name}`;
    case "start":
      return `End the start of ${name}`;
    case "ready":
      return `End the choice of ${name}`;
  }
}
