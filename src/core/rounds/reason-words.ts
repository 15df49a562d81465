import type { Considered } from "../hours";
import { formatInstant } from "../time";
import type { NoHibernation, WantedNote } from "./action";
import { isMany, type Lack } from "./doubt";
import type { HoursOf } from "./hours-of";
import { levelWord, whyInEffect, whyNone } from "./override-words";
import type { ClosedReason, HoursSaid, Reason, RuleRead } from "./reason";

/** The reasons of a decision in a sentence, as the journal and rows have them. Instants are in UTC. */
export function whyWords(reasons: readonly Reason[]): string {
  return reasons.map(reasonWords).join("; ");
}

/** A chain of rules in words. */
export function chainWords(chain: readonly RuleRead[]): readonly Considered[] {
  return chain.map(({ rule, applies, reason }) => ({ rule, applies, why: reasonWords(reason) }));
}

/** Why nothing may be done in an account. */
export function closedWords(reason: ClosedReason): string {
  switch (reason.code) {
    case "unread":
      return `the account was not read: ${reason.error}`;
    case "feed unread":
      return `its feed was not read: ${reason.error}`;
    case "doubted":
      return `its listing is doubted: ${lackWords(reason.lack)}; ${reason.needsPerson ? "a person is asked whether that is true" : "it is read again"}`;
    case "paused":
      return `rounds are paused${reason.isHere ? " here" : ""} by ${reason.person}: ${reason.reason}`;
  }
}

/** What a doubted listing lacks. */
export function lackWords({ of, missing, untagged, guardsLost }: Lack): string {
  const parts = [
    isMany(missing, of) ? `it lacks ${missing} of ${of}` : "",
    isMany(untagged, of) ? `${untagged} of ${of} lose tags` : "",
    guardsLost > 0 ? `${guardsLost} of them their guard` : "",
  ];
  return parts.filter(Boolean).join(", ");
}

/** One reason in words. */
export function reasonWords(reason: Reason): string {
  switch (reason.code) {
    case "guarded":
      return "a guard tag forbids any action";
    case "not guarded":
      return "no guard tag";
    case "no override":
      return whyNone(reason.kind);
    case "override":
      return whyInEffect(reason);
    case "hours":
      return hoursWords(reason);
    case "no hours":
      return noHoursWords(reason.of);
    case "no rule":
      return "no rule speaks";
    case "no fleet":
      return "no fleet in force matches";
    case "said by hand":
      return `${reason.person}: ${reason.words}`;
    case "unread":
    case "feed unread":
    case "doubted":
    case "paused":
      return closedWords(reason);
    case "set aside":
      return `it is listed with what cannot be understood: ${reason.error}`;
    case "is":
    case "in transit":
      return `it is ${reason.state}`;
    case "started by hand only":
      return "this fleet is started by hand";
    case "acted on at this edge":
      return "already acted on at this edge, a person may have changed it since";
    case "its block is paid for":
      return "the block it runs in is paid for, it goes just before the end";
    case "before the block ends":
      return `${reasonWords(reason.because)} from ${formatInstant(reason.at)}; the block it has paid for ends before a later stop would be done`;
    case "too short to start":
      return `${reasonWords(reason.because)} from ${formatInstant(reason.at)}: a start for less than two rounds would pay a whole block`;
    case "asked again later":
      return `${reason.verb} was asked for, and the answer was: ${reason.answer}; it is asked again later`;
    case "at most there":
    case "still billed":
    case "no hibernation":
      return noteWords(reason);
    case "over the limit of stops":
      return `the round would stop more than the limit of ${reason.limit}, so it stops none and asks`;
    case "unforeseen stops":
      return "nobody could foresee this stop, and there are too many of the kind: it is held until a person lets it go";
    case "mix kept":
      return `its mix is kept at ${reason.units}`;
    case "members up":
      return `${reason.up} of ${reason.wanted} are up by its mix: what it had of itself goes`;
    case "stopped by hand":
      return `stopped by hand: ${reason.words}`;
  }
}

/** What is said of an action beside what it does. */
export function noteWords(note: WantedNote): string {
  switch (note.code) {
    case "at most there":
      return `at most ${note.levelMax} there`;
    case "still billed":
      return "shut down from inside and still billed";
    case "no hibernation":
      return `stop instead of hibernate: ${noHibernationWords(note.because)}`;
  }
}

/** Why a machine cannot be hibernated. */
export function noHibernationWords(because: NoHibernation): string {
  switch (because.code) {
    case "no machine":
      return "only machines hibernate";
    case "not offered":
      return "the provider has no hibernation";
    case "os":
      return `not for ${because.os ?? "an unknown OS"} there`;
    case "memory":
      return `${because.gib} GiB of memory, and at most ${because.gibMax} GiB can be kept there`;
  }
}

function hoursWords({ schedule, zone, level, row, aheadMinutes }: HoursSaid): string {
  const place = row === null ? "outside its spans" : `row ${row}`;
  return `${schedule} (${zone}) says ${levelWord(level)}, ${place}${aheadMinutes > 0 ? `, ${aheadMinutes} min ahead` : ""}`;
}

function noHoursWords(hours: Exclude<HoursOf, { kind: "schedule" }>): string {
  switch (hours.kind) {
    case "none":
      return "the fleet has no hours";
    case "untagged":
      return `the resource has no tag ${hours.key} to take hours from`;
    case "unknown":
      return `no schedule is named "${hours.text}"${nearestWord(hours)}`;
    case "unreadable":
      return `"${hours.text}" does not read, ${hours.message}${nearestWord(hours)}`;
  }
}

function nearestWord({ nearest }: { nearest: string | null }): string {
  return nearest === null ? "" : `; the nearest is "${nearest}"`;
}
