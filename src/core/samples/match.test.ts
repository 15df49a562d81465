import { expect, test } from "vitest";
import { within } from "../../../tests/support/patience";
import { identityOf, matchIdentity, nameIndex, nearFinder, withoutDomain } from "./match";

const machine = (id: string, name: string, account = "one", tags = {}) => ({
  id: `${account}:${id}`,
  providerId: id,
  name,
  account,
  tags,
});
const MACHINES = [
  machine("i-1", "desk-01", "one", { asset: "A1" }),
  machine("i-2", "desk-02", "one", { asset: "A2" }),
  machine("i-1", "lab-01", "two"),
  machine("i-9", "desk-02", "two"),
];
const rule = (names: "id" | "name" | "tag", account: string | null = null, tag: string | null = null) => ({
  attribute: "host.name",
  names,
  tag,
  account,
  domain: null,
});

test("a domain is cut where a rule says so, and only behind a name", () => {
  const named = { attribute: "host.name", domain: "skerrywick.example" };
  expect(identityOf(named, { "host.name": "desk-01.skerrywick.example" })).toBe("desk-01");
  expect(identityOf(named, { "host.name": "desk-01.Skerrywick.Example" })).toBe("desk-01");
  for (const other of ["desk-01", "desk-01.other.example", "skerrywick.example", ".skerrywick.example", "deskskerrywick.example"])
    expect(identityOf(named, { "host.name": other }), other).toBe(other);
  expect(withoutDomain("desk-01.skerrywick.example", null)).toBe("desk-01.skerrywick.example");
});

test("a host is found by name, id or tag, within an account where ids repeat; what several have is nobody's", () => {
  expect(matchIdentity("desk-01", nameIndex(rule("name"), MACHINES))).toMatchObject({ id: "one:i-1" });
  expect(matchIdentity("desk-02", nameIndex(rule("name"), MACHINES))).toMatchObject({ id: null, why: "names several machines" });
  expect(matchIdentity("desk-02", nameIndex(rule("name", "two"), MACHINES))).toMatchObject({ id: "two:i-9" });
  expect(matchIdentity("i-1", nameIndex(rule("id"), MACHINES))).toMatchObject({ id: null, why: "names several machines" });
  expect(matchIdentity("i-1", nameIndex(rule("id", "two"), MACHINES))).toMatchObject({ id: "two:i-1" });
  expect(matchIdentity("A2", nameIndex(rule("tag", null, "asset"), MACHINES))).toMatchObject({ id: "one:i-2" });
});

test("whom a host nearly names is said and never taken: a letter off, another case, or with a domain behind", () => {
  const index = nameIndex(rule("name"), MACHINES);
  for (const [identity, nearly] of [
    ["desk-1", "desk-01"],
    ["DESK-01", "desk-01"],
    ["desk-01.skerrywick.example", "desk-01"],
  ] as const) {
    expect(matchIdentity(identity, index)).toEqual({ id: null, why: "names no machine" });
    expect(nearFinder(index)(identity)).toBe(nearly);
  }
  expect(nearFinder(index)("quite another")).toBeNull();
  expect(nearFinder(index)("desk-02")).toBeNull();
  expect(identityOf(rule("name"), { "host.name": "" })).toBeNull();
  expect(identityOf(rule("name"), { "host.id": "x" })).toBeNull();
});

test("a hundred thousand strangers are looked up in a blink among as many machines, and the search for near ones ends", () => {
  const index = nameIndex(
    rule("name"),
    Array.from({ length: 100_000 }, (_, i) => machine(`i-${i}`, `desk-${i}`)),
  );
  const near = nearFinder(index);
  const began = performance.now();
  for (let i = 0; i < 100_000; i++) matchIdentity(`host-${i}`, index);
  const lookedUp = performance.now();
  expect(near("desk_5")).toBe("desk-5");
  for (let i = 0; i < 100_000; i++) near(`host-${i}`);
  const searched = performance.now();
  // Each held to each would be ten thousand million comparisons, half an hour.
  expect(lookedUp - began).toBeLessThan(within(1));
  expect(searched - lookedUp).toBeLessThan(10_000);
  // A domain behind the name is seen all the same.
  expect(near("desk-77.skerrywick.example")).toBe("desk-77");
});
