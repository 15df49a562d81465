import fc from "fast-check";
import { expect, test } from "vitest";
import {
  clauseText,
  type InventoryResource,
  matcher,
  matchesGlob,
  nearMisses,
  parseSelector,
  type Selectable,
  SelectorError,
  selectable,
  selectorWarnings,
} from ".";

const LISTED: InventoryResource[] = [
  { name: "a", region: "fjord-1", kind: "machine", tags: { team: "draughting", stage: "prod" } },
  { name: "b", region: "fjord-1", kind: "machine", tags: { team: "sonar-lab", stage: "test" } },
  { name: "c", region: "tasman-2", kind: "group", tags: { team: "draughting" } },
  { name: "d", tags: {} },
];
const INVENTORY = LISTED.map(selectable);

const matched = (text: string, resources: readonly Selectable[] = INVENTORY) =>
  resources.filter(matcher(parseSelector(text))).map(({ fields }) => fields.name);

test.each([
  ["team = draughting", ["a", "c"]],
  ["team = draughting and region = fjord-1", ["a"]],
  ["name = a or team = sonar-lab and region = tasman-2", ["a"]],
  ["(name = a or team = sonar-lab) and region = tasman-2", []],
  ["not has stage", ["c", "d"]],
  ["not stage = prod and has team", ["b", "c"]],
  ["stage != prod", ["b"]],
  ["stage in (prod, test)", ["a", "b"]],
  ["team ~ s*-l?b", ["b"]],
  ["has region and not not kind = group", ["c"]],
  ['team = "sonar-lab"', ["b"]],
])("%s matches %o", (text, names) => {
  expect(matched(text)).toEqual(names);
});

test("a clause on a key the resource lacks is false, != too, so the untagged match only a not", () => {
  expect(matched("team != draughting")).not.toContain("d");
  expect(matched("not team = draughting")).toContain("d");
});

test("a tag that clashes with a reserved key is written with tag:", () => {
  const clash = [selectable({ name: "x", region: "fjord-1", tags: { region: "north" } })];
  expect(matched("tag:region = north", clash)).toEqual(["x"]);
  expect(matched("region = north", clash)).toEqual([]);
});

test("tags of the container lie over the account's, and the resource's own over both", () => {
  const [one] = [
    selectable({
      name: "x",
      accountTags: { a: "1", b: "1", c: "1" },
      container: { name: "k", tags: { b: "2", c: "2" } },
      tags: { c: "3" },
    }),
  ];
  expect({ ...one?.tags }).toEqual({ a: "1", b: "2", c: "3" });
});

test("a tag named after a part of every object is not found on all of them", () => {
  expect(matched("has constructor")).toEqual([]);
  expect(matched("has toString")).toEqual([]);
});

test.each([
  ["", 0],
  ["team", 4],
  ["team =", 6],
  ["team = a b", 9],
  ["team = a AND stage = b", 9],
  ["(team = a", 9],
  ["team in (a", 10],
  ["team in ()", 9],
  ["team = and", 7],
  ["team = a §", 9],
  ['team = "a', 9],
  ["not", 3],
  ["team == a", 6],
  ["has = a", 4],
])("%s is refused at character %i", (text, position) => {
  try {
    parseSelector(text);
    expect.unreachable();
  } catch (error) {
    expect(error).toBeInstanceOf(SelectorError);
    expect((error as SelectorError).at).toBe(position);
    expect((error as SelectorError).message).toContain("expected");
  }
});

test("ten thousand parentheses are refused, not a crash", () => {
  expect(() => parseSelector(`${"(".repeat(10_000)}a = b${")".repeat(10_000)}`)).toThrow(SelectorError);
});

test("a clause that is written is read as what was meant, whatever is in it", () => {
  const word = fc.oneof(fc.string({ minLength: 1 }), fc.constantFrom("and", "has", "tag", 'a"b\\', "two words", "a*"));
  fc.assert(
    fc.property(word, word, (key, value) => {
      expect(parseSelector(clauseText(key, value))).toMatchObject({ kind: "equals", value, key: { name: key } });
      expect(parseSelector(clauseText(key, null))).toMatchObject({ kind: "not", part: { kind: "has", key: { name: key } } });
    }),
    { seed: 9 },
  );
});

test("a misspelt value is a warning with the nearest known one and how many have it", () => {
  expect(selectorWarnings(parseSelector("team = draughting and stage = tset"), INVENTORY)).toEqual([
    { code: "matches nothing", clause: "stage = tset", at: 22, nearest: "test", count: 1, typed: "tset", unknown: "value" },
  ]);
});

test("a misspelt key is a warning too, even under not, and a known one that matches nothing is none", () => {
  expect(selectorWarnings(parseSelector("not Team = draughting"), INVENTORY)[0]).toMatchObject({
    clause: "Team = draughting",
    at: 4,
    nearest: "team",
    count: 3,
  });
  expect(selectorWarnings(parseSelector("region = fjord-1 and kind = group"), INVENTORY)).toEqual([]);
});

test("machines whose tag is likely mistyped are named, where the mistake is rare beside what is right", () => {
  const fleet = [
    ...Array.from({ length: 20 }, (_, i) => ({ name: `t${i}`, tags: { stage: "test" } })),
    { name: "wrong-value", tags: { stage: "tset" } },
    { name: "wrong-key", tags: { Stage: "test" } },
    { name: "other", tags: { stage: "prod" } },
    ...Array.from({ length: 9 }, (_, i) => ({ name: `n${i}`, tags: { stage: "tests" } })),
  ].map((line) => ({ ...selectable(line as InventoryResource), name: line.name }));
  expect(nearMisses(parseSelector("stage = test"), fleet)).toEqual([
    { clause: "stage = test", found: "stage=tset", meant: "stage=test", names: ["wrong-value"] },
    { clause: "stage = test", found: "Stage=test", meant: "stage=test", names: ["wrong-key"] },
  ]);
  expect(nearMisses(parseSelector("stage != prod and has stage"), fleet)).toEqual([]);
});

test("globs agree with regular expressions on random text", () => {
  const letters = (length: number) => fc.string({ unit: fc.constantFrom("a", "b", "*", "?"), maxLength: length });
  fc.assert(
    fc.property(letters(7), fc.string({ unit: fc.constantFrom("a", "b"), maxLength: 9 }), (glob, text) => {
      const pattern = new RegExp(`^${glob.replaceAll("*", "[^]*").replaceAll("?", "[^]")}$`);
      expect(matchesGlob(glob, text)).toBe(pattern.test(text));
    }),
    { numRuns: 2000, seed: 35 },
  );
});

test("a glob of many stars on a long text answers at once", () => {
  expect(matchesGlob(`${"*a".repeat(40)}b`, "a".repeat(4000))).toBe(false);
});
