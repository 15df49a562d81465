import { expect, test } from "vitest";
import { atOnce, mapped } from "./pieces";

test("a list is mapped alike at once and in pieces, with a stop after every five hundred", () => {
  const list = Array.from({ length: 1_700 }, (_, i) => i);
  const double = (one: number) => 2 * one;
  let stops = 0;
  for (const work = mapped(list, double); !work.next().done; ) stops++;
  expect(stops).toBe(3);
  expect(atOnce(mapped(list, double))).toEqual(list.map(double));
});
