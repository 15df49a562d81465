import { asLevel } from "@/core/hours";
import type { Capabilities, FleetPlan, Resource } from "@/core/plan";
import { fleetSchema } from "@/core/plan";
import { NO_LIMITS, type RoundInput } from "@/core/rounds";
import { selectable } from "@/core/selector";

/** A running firm machine of the stand-in's first provider; say what is different. */
export function aMachine(
  more: Partial<Resource> & { tags?: Record<string, string>; account?: string; provider?: string; os?: string } = {},
): Resource {
  const { account = "a1", provider = "p1", os = "linux", tags = { team: "draughting" }, ...rest } = more;
  const name = rest.name ?? "m1";
  return {
    ...selectable({
      name,
      account,
      provider,
      region: "fjord-1",
      kind: rest.kind ?? "machine",
      os,
      size: "sloop-4",
      purchase: "firm",
      tags,
    }),
    id: rest.id ?? name,
    name,
    kind: "machine",
    state: "running",
    level: asLevel(1),
    target: rest.level ?? asLevel(1),
    levelMax: 1,
    ownSize: asLevel(1),
    guardedUntil: null,
    earlier: [],
    since: 0,
    runSince: 0,
    cores: 4,
    memoryGib: 16,
    diskGib: 100,
    diskClass: "plain",
    addresses: 0,
    attachedTo: null,
    ...rest,
  };
}

export function aFleet(more: Record<string, unknown> = {}): FleetPlan {
  return fleetSchema.parse({ name: "f", select: "team = draughting", hours: "s", ...more });
}

/** What a hold has besides what it is on, its level and its end. */
export const PLACED = { kind: "hold", ruleKey: null, offAction: null } as const;

export const PROVIDER: Capabilities = {
  provider: "p1",
  currency: "EUR",
  billing: {
    machine: { granularityS: 1, minimumS: 60 },
    group: { granularityS: 1, minimumS: 60 },
    service: { granularityS: 3600, minimumS: 3600 },
  },
  billedWhenHalted: true,
  hibernate: { os: ["linux"], memoryGibMax: 32 },
  spot: { noticeS: 120, ineligibleSizes: [] },
  usualS: { start: 60, resume: 25, stop: 30, hibernate: 40 },
  regions: [],
};

/** A round's input for the provider's account, with nothing that speaks against anything; say what is different. */
export function aRound(more: Partial<RoundInput> & Pick<RoundInput, "now" | "resources" | "fleets" | "schedules">): RoundInput {
  return {
    overrides: [],
    lastDue: new Map(),
    openActions: new Map(),
    capabilities: new Map([["a1", PROVIDER]]),
    closed: new Map(),
    setAside: new Map(),
    seen: new Map(),
    fellAsKnown: () => false,
    fallsAsKnown: () => false,
    held: new Map(),
    approved: new Set(),
    usualTrips: () => true,
    limits: NO_LIMITS,
    roundEveryS: 60,
    ...more,
  };
}
