import { expect, test } from "vitest";
import { fleetSchema, planToDraft } from "@/core/plan";
import { hasChanges } from "./fleets";

test("a draft made of a plan differs from it in nothing, and one edit is a difference", () => {
  const inForce = fleetSchema.parse({ name: "f", select: "team = x", hours: { fromTag: "hours" }, lead: 5 });
  const draft = planToDraft(inForce);
  expect(hasChanges({ draft, inForce })).toBe(false);
  expect(hasChanges({ draft: { ...draft, lead: 6 }, inForce })).toBe(true);
  expect(hasChanges({ draft: { ...draft, hours: null }, inForce })).toBe(true);
  expect(hasChanges({ draft, inForce: null })).toBe(true);
});
