import { readFileSync } from "node:fs";
import { expect, test } from "vitest";
import { planJsonSchema } from "./json-schema";

test("the published JSON Schema is the one that plan files are checked against", () => {
  expect(JSON.parse(readFileSync("docs/plan.schema.json", "utf8"))).toEqual(planJsonSchema());
});
