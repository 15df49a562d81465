import { type CompiledSchedule, compileSchedule, HOURS_OFF, isLocal, livedIn, readLine, suggestLine } from "../hours";
import { type CapabilitiesByAccount, capabilitiesFor, type FleetPlan } from "../plan";
import { nearest, type Selectable } from "../selector";
import { atPlace } from "./pool-place";

/** Where a resource's hours come from: its fleet's schedule, or what its own tag says, a name or an hours line. */
export type HoursOf =
  | Readonly<{ kind: "none" }>
  | Readonly<{ kind: "schedule"; compiled: CompiledSchedule }>
  | Readonly<{ kind: "untagged"; key: string }>
  /** A name that no schedule has. */
  | Readonly<{ kind: "unknown"; text: string; nearest: string | null }>
  /** An hours line that does not read, or that nobody can say the zone of. */
  | Readonly<{ kind: "unreadable"; text: string; message: string; nearest: string | null }>;

/** A resource, with its place in its pool where it belongs to one. */
export type Placed = Selectable & Readonly<{ poolPlace?: number }>;
export type HoursFinder = (resource: Placed, fleet: Pick<FleetPlan, "hours" | "pooled">) => HoursOf;

const NONE: HoursOf = { kind: "none" };
const NO_ZONE = "the provider does not say which zone its region lives in";

/**
 * Finds the hours that a resource follows. A line in a tag is lived where the people of the
 * resource's region live, and knows no holidays. Equal answers are the same object.
 */
export function hoursFinder(schedules: ReadonlyMap<string, CompiledSchedule>, capabilities: CapabilitiesByAccount): HoursFinder {
  const answers = new Map<string, HoursOf>();
  const remember = (key: string, make: () => HoursOf): HoursOf => {
    const answer = answers.get(key) ?? make();
    answers.set(key, answer);
    return answer;
  };
  const named = (name: string, resource: Selectable): HoursOf => {
    const compiled = schedules.get(name);
    if (!compiled)
      return remember(`name ${name}`, () => ({ kind: "unknown", text: name, nearest: nearestName(name, schedules) }));
    if (!isLocal(compiled)) return remember(`name ${name}`, () => ({ kind: "schedule", compiled }));
    const zone = zoneOf(resource, capabilities);
    return remember(`name ${name} in ${zone}`, () =>
      zone === null
        ? { kind: "unreadable", text: name, message: NO_ZONE, nearest: null }
        : { kind: "schedule", compiled: livedIn(compiled, zone) },
    );
  };
  const inPool = (found: HoursOf, place: number): HoursOf =>
    found.kind !== "schedule"
      ? found
      : remember(`place ${place} ${found.compiled.schedule.zone} ${found.compiled.schedule.name}`, () => ({
          kind: "schedule",
          compiled: atPlace(found.compiled, place),
        }));
  return (resource, { hours, pooled }) => {
    if (hours === undefined) return NONE;
    if (typeof hours === "string")
      return pooled ? inPool(named(hours, resource), resource.poolPlace ?? 0) : named(hours, resource);
    const text = resource.tags[hours.fromTag]?.trim();
    if (text === undefined) return remember(`untagged ${hours.fromTag}`, () => ({ kind: "untagged", key: hours.fromTag }));
    if (schedules.has(text) || !looksLikeLine(text)) return named(text, resource);
    const zone = zoneOf(resource, capabilities);
    return remember(`line ${zone} ${text}`, () => lineOf(text, { zone, schedules }));
  };
}

/** The zone where the people of a resource's region live, as its provider says; null where it does not. */
export function zoneOf({ fields }: Selectable, capabilities: CapabilitiesByAccount): string | null {
  const regions = capabilitiesFor({ fields }, capabilities)?.regions;
  return regions?.find(({ name }) => name === fields.region)?.peopleZone ?? null;
}

/** Hours have a colon between digits, and so has no schedule's name that is merely mistyped. */
function looksLikeLine(text: string): boolean {
  return readLine(text).ok || /\d[:.]\d|\d\s*-\s*\d|;/.test(text);
}

type LineContext = Readonly<{ zone: string | null; schedules: ReadonlyMap<string, unknown> }>;

function lineOf(text: string, { zone, schedules }: LineContext): HoursOf {
  const line = readLine(text);
  if (!line.ok) {
    const near = suggestLine(text) ?? nearestName(text, schedules);
    return { kind: "unreadable", text, message: `character ${line.error.at + 1}: ${line.error.message}`, nearest: near };
  }
  if (zone === null) {
    return { kind: "unreadable", text, message: NO_ZONE, nearest: null };
  }
  const schedule = { name: text, zone, outside: HOURS_OFF, rows: line.rows };
  return { kind: "schedule", compiled: compileSchedule(schedule, undefined, "last") };
}

function nearestName(name: string, known: ReadonlyMap<string, unknown>): string | null {
  return nearest(name, new Map([...known.keys()].map((key) => [key, 1])))?.name ?? null;
}
