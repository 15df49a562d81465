import type { Level } from "../hours";
import type { FleetPlan } from "../plan";
import type { Instant } from "../time";

/** What may stand above the hours for a while: a person's hold, an idle trip, a person's start, what a pool has chosen. */
export const OVERRIDE_KINDS = ["hold", "trip", "start", "ready"] as const;
export type OverrideKind = (typeof OVERRIDE_KINDS)[number];

/** `level` holds from `from` to `to`. Bound to one resource or one fleet. Of several of a kind the one placed last counts. */
export type Override = Readonly<{
  id: number;
  kind: OverrideKind;
  resourceId: string | null;
  fleet: string | null;
  level: Level;
  from: Instant;
  to: Instant;
  reason: string;
  /** The rule of its plan that made it, by its key; null where none did. */
  ruleKey: string | null;
  /** How it turns off what it lowers; its fleet's way where null. */
  offAction: FleetPlan["offAction"] | null;
}>;

/** Why a day cost something else than hours alone make it (docs/model.md, Realised savings). */
export type OverrideCause = "holds" | "idle alarms" | "persons' starts and stops" | "ready machines";

export type OverrideTraits = Readonly<{
  /** Whose doing it is. */
  by: "person" | "rule";
  /** What it may do to the level of the hours: one that only raises gives way where they want more, one that only lowers where they want less. */
  may: "lower" | "raise" | "either";
  /** Whether a stop that it asks for was foreseen: `as usual` where its fleet has as many of them as it is used to. */
  foreseen: "always" | "as usual" | "never";
  /** Only machines of a pool have it. */
  isOfPool: boolean;
  cause: OverrideCause;
  /** It stands beside what it is on, to be ended by hand. What a pool chooses is what is due, and nobody's exception. */
  isListed: boolean;
  /** It is marked on the strip and on a machine's life: of what a rule makes there may be hundreds. */
  isMarked: boolean;
}>;

/** What each kind is, for whatever asks: due, the brake, realised savings, Burn, marks. */
export const OVERRIDES: Readonly<Record<OverrideKind, OverrideTraits>> = {
  hold: { by: "person", may: "either", foreseen: "always", isOfPool: false, cause: "holds", isListed: true, isMarked: true },
  trip: {
    by: "rule",
    may: "lower",
    foreseen: "as usual",
    isOfPool: false,
    cause: "idle alarms",
    isListed: true,
    isMarked: false,
  },
  start: {
    by: "person",
    may: "raise",
    foreseen: "never",
    isOfPool: false,
    cause: "persons' starts and stops",
    isListed: true,
    isMarked: true,
  },
  // That nobody is there has been seen, and hours bound how many may go.
  ready: {
    by: "rule",
    may: "either",
    foreseen: "always",
    isOfPool: true,
    cause: "ready machines",
    isListed: false,
    isMarked: false,
  },
};

/** A rule by which an override decides: its kind, and what it is on. `name` is what the chain of reasons calls it. */
export type OverrideRule = Readonly<{ kind: OverrideKind; on: "resource" | "fleet"; name: OverrideRuleName }>;
export type OverrideRuleName = "hold on the resource" | "hold on the fleet" | "idle trip" | "person's start" | "ready machines";

/** Every rule that may decide what is due; null: leave it. */
export type RuleName = "guard" | OverrideRuleName | "hours" | "leave";

/** The order in which they speak, below guards and above hours. This list is the only place that says it. */
export const OVERRIDE_ORDER: readonly OverrideRule[] = [
  { kind: "hold", on: "resource", name: "hold on the resource" },
  { kind: "hold", on: "fleet", name: "hold on the fleet" },
  { kind: "trip", on: "resource", name: "idle trip" },
  { kind: "start", on: "resource", name: "person's start" },
  { kind: "ready", on: "resource", name: "ready machines" },
];

/** The kind of override that a rule is about; null for guards, hours and leave. */
export function kindOfRule(name: string): OverrideKind | null {
  return OVERRIDE_ORDER.find((rule) => rule.name === name)?.kind ?? null;
}

/** True where a rule that sees for itself goes before a person's start: then nothing is kept of a start that it undoes. */
export function goesBeforeStarts(name: string): boolean {
  const at = OVERRIDE_ORDER.findIndex((rule) => rule.name === name);
  const start = OVERRIDE_ORDER.findIndex(({ kind }) => kind === "start");
  return at >= 0 && at < start && OVERRIDES[(OVERRIDE_ORDER[at] as OverrideRule).kind].by === "rule";
}

/** The level that an override gives where hours say a level of their own, or nothing. */
export function levelUnder({ kind, level }: Pick<Override, "kind" | "level">, hours: Level | null): Level {
  if (hours === null) return level;
  switch (OVERRIDES[kind].may) {
    case "lower":
      return hours < level ? hours : level;
    case "raise":
      return hours > level ? hours : level;
    case "either":
      return level;
  }
}

/** For whom overrides are looked through. */
export type Overridden = Readonly<{ resourceId: string; plan: Pick<FleetPlan, "name" | "pooled"> }>;

/** Those on a resource and its fleet by the rules that they belong to, in order; a list for each of `OVERRIDE_ORDER`. */
export function byRule<O extends Override>(overrides: readonly O[], { resourceId, plan }: Overridden): readonly (readonly O[])[] {
  return OVERRIDE_ORDER.map(({ kind, on }) =>
    OVERRIDES[kind].isOfPool && !plan.pooled
      ? []
      : overrides.filter(
          (one) =>
            one.kind === kind &&
            (on === "resource" ? one.resourceId === resourceId : one.resourceId === null && one.fleet === plan.name),
        ),
  );
}

/** The one placed last of those in effect at an instant; null where none is. */
export function newestAt<O extends Pick<Override, "id" | "from" | "to">>(overrides: readonly O[], t: Instant): O | null {
  let newest: O | null = null;
  for (const one of overrides) {
    if (one.from <= t && t < one.to && (newest === null || one.id > newest.id)) newest = one;
  }
  return newest;
}

/** The override that decides at an instant, with its rule, from `byRule`; null where none is in effect. */
export function decidingAt<O extends Override>(
  lists: readonly (readonly O[])[],
  t: Instant,
): Readonly<{ override: O; rule: OverrideRule }> | null {
  for (let i = 0; i < lists.length; i++) {
    const own = lists[i] as readonly O[];
    if (own.length === 0) continue;
    const override = newestAt(own, t);
    if (override) return { override, rule: OVERRIDE_ORDER[i] as OverrideRule };
  }
  return null;
}
