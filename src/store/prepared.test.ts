import { expect, test } from "vitest";
import { readyNames } from "./prepared";

test("what is asked for the third time gets a name and keeps it, until it is forgotten", () => {
  const names = readyNames();
  const ask = () => names.of("select 1");
  expect([ask(), ask(), ask(), ask()]).toEqual([null, null, "ready_0", "ready_0"]);
  names.forget("select 1");
  expect(ask()).toBeNull();
});

test("two texts never share a name, and there are no more names than may be", () => {
  const names = readyNames({ most: 3 });
  const given = Array.from({ length: 40 }, (_, i) => names.of(`select ${i % 10}`));
  const used = given.filter((name) => name !== null);
  expect(new Set(used).size).toBe(3);
  for (let i = 0; i < 10; i++) {
    const name = names.of(`select ${i}`);
    const others = Array.from({ length: 10 }, (_, other) => (other === i ? null : names.of(`select ${other}`)));
    if (name !== null) expect(others).not.toContain(name);
  }
});
