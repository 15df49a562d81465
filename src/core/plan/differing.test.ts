import { expect, expectTypeOf, test } from "vitest";
import { aFleet } from "../../../tests/support/make";
import { changedKeys, differingKeys, fleetDraftSchema, PLAN_KEYS, type PlanKey, planToDraft } from ".";

const PLAN = aFleet({ lead: 10 });
const DRAFT = planToDraft(PLAN);
const RULE = {
  match: "all" as const,
  conditions: [{ metric: "cpu", statistic: "mean" as const, op: "<" as const, threshold: 5, window: 60 }],
  coverage: 0.9,
  warn: 0,
  settle: 0,
  interruptionWithin: 30,
  startMinutes: 0,
  action: "stop" as const,
  applies: "always" as const,
};

test("every part of a draft but its name is compared", () => {
  expectTypeOf<(typeof PLAN_KEYS)[number]>().toEqualTypeOf<PlanKey>();
  expect([...PLAN_KEYS].sort()).toEqual(
    Object.keys(fleetDraftSchema.shape)
      .filter((key) => key !== "name")
      .sort(),
  );
});

test("a plan's own draft differs in nothing, whatever the order of its keys and what it leaves to the default", () => {
  expect(changedKeys(DRAFT, PLAN)).toEqual([]);
  expect(changedKeys(DRAFT, null)).toBeNull();
  expect(differingKeys(DRAFT, { ...DRAFT, unhealthy: "replace", idle: [] })).toEqual([]);
  expect(differingKeys({ ...DRAFT, name: "other" }, DRAFT)).toEqual([]);
});

test("what reads the same and is not the same differs: how a rule warns, how members are restarted, which step", () => {
  const rules = { ...DRAFT, idle: [RULE] };
  expect(differingKeys(rules, { ...DRAFT, idle: [{ ...RULE, step: 5 }] })).toEqual(["idle"]);
  expect(differingKeys(rules, { ...DRAFT, idle: [{ ...RULE, warn: 10 }] })).toEqual(["idle"]);
  expect(differingKeys({ ...DRAFT, unhealthy: "replace" }, { ...DRAFT, unhealthy: "restart" })).toEqual(["unhealthy"]);
  const pooled = { spare: 0, disconnectWait: null, signOffWait: 0, settle: 10 };
  expect(differingKeys({ ...DRAFT, pooled }, { ...DRAFT, pooled: { ...pooled, settle: 11 } })).toEqual(["pooled"]);
});
