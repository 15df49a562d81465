import { expect, test } from "vitest";
import { asLevel } from "@/core/hours";
import { mixSchema } from "@/core/mix";
import type { Fleet, MixMember, StoredResource } from "@/store";
import { aFleet, aMachine, PROVIDER } from "../../../tests/support/make";
import type { Snapshot } from "../inventory";
import { memberUnits, mixedGroups } from "./mixed-groups";

const NOW = 10_000;
const MIX = mixSchema.parse({
  wanted: 6,
  firm: 2,
  firmPrice: 1,
  setupMinutes: 5,
  eviction: "drop",
  order: "even",
  pools: [{ name: "sloop-4 a", unitsPerMachine: 2, price: 0.3, hazard: 0.01 }],
});

function worldOf(groups: readonly string[], members: readonly Partial<StoredResource>[] = [], tags = {}): Snapshot {
  const stored = (one: object) => ({ due: null, fleet: "f", verdict: null, why: "", ...one }) as unknown as StoredResource;
  const resources = [
    ...groups.map((id) => stored(aMachine({ id, name: id, kind: "group", levelMax: 9, tags: { team: "draughting", ...tags } }))),
    ...members.map((one) =>
      stored({ ...aMachine({ tags: {} }), kind: "member", attachedTo: groups[0], ...one } as unknown as StoredResource),
    ),
  ];
  const fleet = {
    id: 1,
    name: "f",
    rank: 1,
    inForce: aFleet({ hours: undefined, mix: MIX }),
    retiredAt: null,
  } as unknown as Fleet;
  const schedulable = resources.filter(({ kind }) => kind !== "member");
  return {
    accounts: [],
    capabilities: new Map([["a1", PROVIDER]]),
    resources,
    schedulable,
    fleets: [fleet],
    schedules: [],
    calendars: [],
    likely: new Map(),
  };
}

const member = (resourceId: string): MixMember => ({ groupId: "g", resourceId, units: 2 }) as MixMember;

test("a mix is kept for the one group of its fleet; for none where there are two, or a guard stands", () => {
  expect(mixedGroups(worldOf(["g"])).map(({ group }) => group.id)).toEqual(["g"]);
  expect(mixedGroups(worldOf(["g", "h"]))).toEqual([]);
  expect(mixedGroups(worldOf(["g"], [], { "umbrik-guard": "" }))).toEqual([]);
});

test("members count by their units as listed: there while they come, up once they are set up, gone ones not at all", () => {
  const snapshot = worldOf(
    ["g"],
    [
      { id: "up", state: "running", since: NOW - 400 },
      { id: "young", state: "running", since: NOW - 200 },
      { id: "off", state: "stopped", level: asLevel(0) },
      { id: "lost", state: "gone" },
    ],
  );
  const members = ["up", "young", "off", "lost", "ordered"].map(member);
  expect(memberUnits(snapshot, members, NOW).get("g")).toEqual({ there: 6, up: 2 });
  expect(memberUnits(worldOf(["g", "h"]), members, NOW).size).toBe(0);
});
