import { expect, test } from "vitest";
import { circlesOf, judge } from "./arrows.mjs";

test.each([
  ["src/core/hours/expand.ts", "src/store/pool", false, "core does not know store"],
  ["src/ui/burn/burn.tsx", "src/services", false, "types only"],
  ["src/ui/burn/burn.tsx", "src/services", true, null],
  ["src/app/page.tsx", "src/store", false, "app does not know store"],
  ["src/services/burn.ts", "src/provider", false, null],
  ["src/cli/main.ts", "src/core/hours", false, null],
  ["src/services/burn.ts", "standin/world/meter", false, "src takes nothing from the stand-in"],
  ["standin/world/meter.ts", "src/core/pricing", true, "standin takes nothing from src"],
  ["standin/world/birth.ts", "demo/accounts", false, null],
  ["src/ui/burn/burn.tsx", "demo/accounts", false, "the product knows nothing of the demo"],
  ["src/worker/main.ts", "demo/accounts", false, "the product knows nothing of the demo"],
  ["demo/prepare.ts", "src/services", false, null],
  ["demo/accounts.ts", "src/core/plan", false, "demo takes nothing from src"],
])("%s importing %s (types alone: %s) is judged: %s", (file, target, isTypeOnly, expected) => {
  expect(judge(file, target, isTypeOnly)).toBe(expected);
});

test("a circle of imports is found, and types alone make none", () => {
  const imports = (isTypeOnly: boolean) =>
    new Map([
      ["a.ts", [{ target: "b", isTypeOnly: false }]],
      ["b.ts", [{ target: "c", isTypeOnly: false }]],
      ["c.ts", [{ target: "a", isTypeOnly }]],
    ]);
  expect(circlesOf(imports(false))).toEqual(["a circle: a.ts -> b.ts -> c.ts -> a.ts"]);
  expect(circlesOf(imports(true))).toEqual([]);
});
