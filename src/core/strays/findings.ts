import { type CompiledSchedule, isLocal, type ScheduleWarning, scheduleWarnings } from "../hours";
import { isGuarded, isSchedulable, type Resource } from "../plan";
import { type Amount, addAmounts, amountOf, computePerSecond, costPerSecond, covers, feePerSecond, NO_AMOUNT } from "../pricing";
import { ownSizeOf } from "../rounds";
import { matcher, selectorOf } from "../selector";
import { DAY_S, type Instant, MONTH_S, offsetAt } from "../time";
import type { Stray, StrayInput } from "./find";
import { type MistypedTag, mistypedTags } from "./mistyped";

/** Where the next step is taken. */
export type FindingPlace =
  | Readonly<{ kind: "machine"; id: string }>
  | Readonly<{ kind: "fleet"; name: string }>
  | Readonly<{ kind: "resources"; find: string }>
  | Readonly<{ kind: "strays" }>
  | Readonly<{ kind: "prices" }>;

/** Something odd about the estate, in words, what it is about in money a month of 730 hours, and the next step. */
export type Finding = Readonly<{
  key: string;
  what: string;
  says: string;
  step: string;
  place: FindingPlace;
  perMonth: Amount;
}>;

export type FindingsInput = StrayInput &
  Readonly<{
    schedules: ReadonlyMap<string, CompiledSchedule>;
    /** Where the people of a resource live; null where nobody says. */
    zoneOf: (resource: Resource) => string | null;
    strays: readonly Stray[];
  }>;

/** What is odd about the estate and nobody has said is meant, the dearest first. */
export function findFindings(input: FindingsInput): readonly Finding[] {
  const tags = mistypedTags(input.resources);
  const odd = [
    ...mistyped(tags, input),
    ...ofStrays(input, new Set(tags.map(({ found }) => found))),
    ...livedElsewhere(input),
    ...matchedTwice(input),
    ...paidAnyway(input),
    ...oddWeeks(input),
  ];
  return odd.sort((a, b) => (a.perMonth < b.perMonth ? 1 : a.perMonth > b.perMonth ? -1 : a.key.localeCompare(b.key)));
}

/** What resources cost a month that run all of it. */
function monthOf(resources: readonly Resource[], { cardOf }: FindingsInput): Amount {
  return resources.reduce((sum, resource) => {
    const card = cardOf(resource);
    if (!card) return sum;
    const running = resource.level > 0 ? costPerSecond(card, resource) : computePerSecond(card, ownSizeOf(resource, {}));
    return addAmounts(sum, amountOf(MONTH_S, running));
  }, NO_AMOUNT);
}

function names(resources: readonly Resource[]): string {
  const [first, ...rest] = resources;
  return rest.length === 0 ? (first?.name ?? "") : `${first?.name} and ${rest.length} more`;
}

function mistyped(tags: readonly MistypedTag[], input: FindingsInput): Finding[] {
  return tags.map(({ found, meant, meantCount, resources }) => {
    const [key, value] = found.split("=");
    return {
      key: `mistyped ${found}`,
      what: names(resources),
      says: `${found} is likely ${meant}, which ${meantCount} others say`,
      step: "see where",
      place: { kind: "resources", find: value === undefined ? `has ${key}` : `${key} = ${value}` },
      perMonth: monthOf(resources, input),
    };
  });
}

/** Strays that are mistakes more than leftovers; the leftovers stand together. */
function ofStrays({ strays, now }: FindingsInput, known: ReadonlySet<string>): Finding[] {
  const odd: Finding[] = [];
  const left: Stray[] = [];
  const long = new Map<string, Stray[]>();
  for (const stray of strays) {
    const { key, kind, name, perMonth, resourceId, tag, used } = stray;
    const machine = resourceId === null ? null : ({ kind: "machine", id: resourceId } as const);
    if (kind === "running long") {
      const series = name.replace(/[-_]?\d+$/, "");
      long.set(series, [...(long.get(series) ?? []), stray]);
    } else if (kind === "tag that names nothing" && machine) {
      if (known.has(tag?.found ?? "")) continue;
      const meant = tag?.meant ? `, likely ${tag.meant}` : "";
      odd.push({ key, what: name, says: `${tag?.found} names nothing${meant}`, step: "look at it", place: machine, perMonth });
    } else if (kind === "unused commitment") {
      const says = `${used?.average.toFixed(1)} of ${used?.units} committed are in use`;
      odd.push({ key, what: name, says, step: "see commitments", place: { kind: "prices" }, perMonth });
    } else if (kind !== "in no fleet") left.push(stray);
  }
  for (const own of long.values()) odd.push(longRun(own, now));
  if (left.length === 0) return odd;
  const perMonth = left.reduce((sum, one) => addAmounts(sum, one.perMonth), NO_AMOUNT);
  const says = "cost and serve nobody: disks, addresses, images, machines shut down from inside";
  return [
    ...odd,
    { key: "strays", what: `${left.length} things`, says, step: "go through them", place: { kind: "strays" }, perMonth },
  ];
}

/** Machines of one series that have run for long: one, or all of it together. */
function longRun(own: readonly Stray[], now: Instant): Finding {
  const [first, ...rest] = own as [Stray, ...Stray[]];
  const days = own.map(({ since }) => (since === null ? 0 : Math.floor((now - since) / DAY_S)));
  const [least, most] = [Math.min(...days), Math.max(...days)];
  const place: FindingPlace =
    rest.length === 0 && first.resourceId !== null
      ? { kind: "machine", id: first.resourceId }
      : { kind: "resources", find: `name ~ ${first.name.replace(/\d+$/, "*")}` };
  return {
    key: first.key,
    what: rest.length === 0 ? first.name : `${first.name} and ${rest.length} more`,
    says: rest.length === 0 ? `has run for ${most} days without a stop` : `have run for ${least} to ${most} days without a stop`,
    step: rest.length === 0 ? "look at it" : "look at them",
    place,
    perMonth: own.reduce((sum, { perMonth }) => addAmounts(sum, perMonth), NO_AMOUNT),
  };
}

/** What a fleet has, or would have in force: what it matches, but for what is guarded, and what one in force above it has. */
function membersOf(fleet: FindingsInput["fleets"][number], { fleets, resources }: FindingsInput): readonly Resource[] {
  const matches = matcher(selectorOf(fleet.select));
  const above = fleets
    .slice(0, fleets.indexOf(fleet))
    .flatMap(({ select, isDraft }) => (isDraft ? [] : [matcher(selectorOf(select))]));
  return resources.filter((one) => isSchedulable(one) && !isGuarded(one) && matches(one) && !above.some((takes) => takes(one)));
}

/** Hours kept in one zone for people who live in another. */
function livedElsewhere(input: FindingsInput): Finding[] {
  const { fleets, hoursOf, zoneOf, now } = input;
  return fleets.flatMap((fleet): Finding[] => {
    if (typeof fleet.hours !== "string") return [];
    const machines = membersOf(fleet, input);
    const elsewhere = new Map<string, Resource[]>();
    let zone = "";
    for (const machine of machines) {
      const hours = hoursOf(machine, fleet);
      const people = zoneOf(machine);
      if (hours.kind !== "schedule" || people === null) continue;
      zone = hours.compiled.schedule.zone;
      if (offsetAt(people, now) === offsetAt(zone, now)) continue;
      const own = elsewhere.get(people);
      if (own) own.push(machine);
      else elsewhere.set(people, [machine]);
    }
    const all = [...elsewhere.values()].flat();
    if (all.length === 0) return [];
    const live = [...elsewhere.keys()].join(", ");
    return [
      {
        key: `zone ${fleet.name}`,
        what: `${fleet.name}, ${all.length} ${all.length === 1 ? "machine" : "machines"}`,
        says: `hours are in ${zone} time, and its people live in ${live}`,
        step: "set the zone",
        place: { kind: "fleet", name: fleet.name },
        perMonth: monthOf(all, input),
      },
    ];
  });
}

/** Machines that more than one fleet means: only the highest has them. */
function matchedTwice(input: FindingsInput): Finding[] {
  const tests = input.fleets.map(({ name, select }) => ({ name, matches: matcher(selectorOf(select)) }));
  const pairs = new Map<string, { first: string; others: string[]; machines: Resource[] }>();
  for (const resource of input.resources) {
    if (!isSchedulable(resource) || isGuarded(resource)) continue;
    const [first, ...others] = tests.flatMap(({ name, matches }) => (matches(resource) ? [name] : []));
    if (first === undefined || others.length === 0) continue;
    const key = [first, ...others].join(" ");
    const pair = pairs.get(key) ?? { first, others, machines: [] };
    pair.machines.push(resource);
    pairs.set(key, pair);
  }
  return [...pairs].map(([key, { first, others, machines }]) => ({
    key: `twice ${key}`,
    what: names(machines),
    says: `matched by ${first} and by ${others.join(", ")}: ${first} ranks above, and has ${machines.length === 1 ? "it" : "them"}`,
    step: "see who matches",
    place: { kind: "fleet", name: others[0] ?? first },
    perMonth: monthOf(machines, input),
  }));
}

/** Hours on what a commitment has paid for already save nothing below what it covers. */
function paidAnyway(input: FindingsInput): Finding[] {
  const { commitments, fleets } = input;
  return commitments.flatMap(({ commitment }) =>
    fleets.flatMap((fleet): Finding[] => {
      if (fleet.hours === undefined) return [];
      const machines = membersOf(fleet, input).filter((one) => covers(commitment, one));
      if (machines.length === 0) return [];
      const { id, units, size } = commitment;
      return [
        {
          key: `paid ${id} ${fleet.name}`,
          what: fleet.name,
          says: `hours save nothing below ${units} × ${size}: a commitment has paid for them, on or off`,
          step: "see its ledger",
          place: { kind: "fleet", name: fleet.name },
          perMonth: amountOf(MONTH_S, feePerSecond(commitment)),
        },
      ];
    }),
  );
}

/** Weeks with rows that do not do what they seem to. */
function oddWeeks(input: FindingsInput): Finding[] {
  const { schedules, fleets, now } = input;
  return fleets.flatMap((fleet): Finding[] => {
    const compiled = typeof fleet.hours === "string" ? schedules.get(fleet.hours) : undefined;
    if (!compiled || isLocal(compiled)) return [];
    const machines = membersOf(fleet, input);
    return scheduleWarnings(compiled, { from: now, leadMinutes: 0 }).map((warning) => ({
      key: `week ${fleet.name} ${warning.code} ${"row" in warning ? warning.row : ""}`,
      what: `${fleet.name}, ${compiled.schedule.name}`,
      says: weekWords(warning),
      step: "open its week",
      place: { kind: "fleet", name: fleet.name },
      perMonth: monthOf(machines, input),
    }));
  });
}

function weekWords(warning: ScheduleWarning): string {
  switch (warning.code) {
    case "overlap":
      return `in ${warning.label}, ${warning.first} and ${warning.second} overlap`;
    case "never":
      return warning.isPast ? `the row ${warning.label} is over` : `the row ${warning.label} never applies`;
    case "never on":
      return "its hours never switch anything on";
    case "short gap":
      return `a pause of ${warning.gapMinutes} min is too short to stop in`;
  }
}
