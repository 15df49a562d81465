import { expect, test } from "vitest";
import { circlesOf, folderCirclesOf, judge, wrongRoutes } from "./arrows.mjs";

test.each([
  ["src/core/hours/expand.ts", "src/store/pool", false, "core does not know store"],
  ["src/ui/burn/burn.tsx", "src/services/cost", false, "types only"],
  ["src/ui/burn/burn.tsx", "src/services/cost", true, null],
  ["src/app/page.tsx", "src/services", false, "only by the door of a subject"],
  ["src/app/page.tsx", "src/services/cost/burn/page", false, "only by the door of a subject"],
  ["src/app/page.tsx", "src/store", false, "app does not know store"],
  ["src/services/burn.ts", "src/provider", false, null],
  ["src/cli/main.ts", "src/core/hours", false, null],
  ["src/services/burn.ts", "standin/world/meter", false, "src takes nothing from the stand-in"],
  ["standin/world/meter.ts", "src/core/pricing", true, "standin takes nothing from src"],
  ["standin/world/birth.ts", "demo/accounts", false, null],
  ["src/ui/burn/burn.tsx", "demo/accounts", false, "the product knows nothing of the demo"],
  ["src/worker/main.ts", "demo/accounts", false, "the product knows nothing of the demo"],
  ["demo/prepare.ts", "src/services/admin", false, null],
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

test("a circle of folders is found though no file is in one, and types alone make none", () => {
  const imports = (isTypeOnly: boolean) =>
    new Map([
      ["src/core/rounds/decide.ts", [{ target: "src/core/ready/place", isTypeOnly }]],
      ["src/core/ready/place.ts", []],
      ["src/core/ready/with-places.ts", [{ target: "src/core/rounds", isTypeOnly: false }]],
      ["src/core/rounds/index.ts", []],
    ]);
  expect(folderCirclesOf(imports(false))).toEqual(["a circle of folders: src/core/rounds -> src/core/ready -> src/core/rounds"]);
  expect(folderCirclesOf(imports(true))).toEqual([]);
});

test("a route that was not made by route() is found, and so is a server action", () => {
  const file = "src/app/api/holds/route.ts";
  expect(wrongRoutes(file, 'export const POST = route("hold", onOf, schema, place);')).toEqual([]);
  expect(wrongRoutes(file, "export async function POST(request) {}")).toEqual([`${file}: POST is not made by route()`]);
  expect(wrongRoutes(file, "export const GET = () => new Response();")).toEqual([`${file}: GET is not made by route()`]);
  expect(wrongRoutes(file, "export const DELETE = handler(x);")).toEqual([`${file}: DELETE is not made by route()`]);
  expect(wrongRoutes("src/ui/x.ts", '"use server";\nexport async function f() {}')).toHaveLength(1);
});
