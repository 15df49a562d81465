import { expect, test } from "vitest";
import { aMachine } from "../../../tests/support/make";
import { unitsOfMember } from "./units";

const group = { cores: 4 };
const member = (size: string, zone: string, cores: number) => {
  const made = aMachine({ cores });
  return { ...made, fields: { ...made.fields, size, zone } };
};

test("a member stands for what its pool says, whatever its cores; one of no pool for its cores", () => {
  const mix = { pools: [{ name: "ketch-8 b", unitsPerMachine: 3 }] } as Parameters<typeof unitsOfMember>[2];
  expect(unitsOfMember(member("ketch-8", "b", 8), group, mix)).toBe(3);
  expect(unitsOfMember(member("ketch-8", "a", 8), group, mix)).toBe(2);
  expect(unitsOfMember(member("ketch-8", "b", 8), group, undefined)).toBe(2);
  expect(unitsOfMember(member("skiff-2", "a", 2), group, mix)).toBe(1);
});
