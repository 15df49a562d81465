import { expect, test } from "vitest";
import type { Round } from "@/store";
import { foldQuiet, isQuiet } from "./journal";

const round = (id: number, more: Partial<Round> = {}): Round => ({
  id,
  mode: "act",
  fleet: null,
  askedBy: "worker",
  at: id * 60,
  status: "done",
  resources: 9,
  sent: 0,
  tried: 0,
  again: 0,
  waiting: 0,
  braked: 0,
  changed: 0,
  unread: {},
  tookMs: 5,
  error: null,
  ...more,
});

test("quiet rounds in a row become one line; anything that happened keeps its own", () => {
  const entries = foldQuiet([
    round(9),
    round(8),
    round(7, { sent: 2 }),
    round(6),
    round(5, { mode: "rehearse" }),
    round(4),
    round(3),
    round(2),
  ]);
  expect(
    entries.map((entry) => (entry.kind === "quiet" ? `${entry.first.id}-${entry.last.id} x${entry.count}` : entry.round.id)),
  ).toEqual(["8-9 x2", 7, 6, 5, "2-4 x3"]);
});

test.each([
  [{ sent: 1 }, false],
  [{ waiting: 1 }, false],
  [{ braked: 1 }, false],
  [{ tried: 1 }, false],
  [{ changed: 1 }, false],
  [{ status: "failed" as const }, false],
  [{ unread: { a: "no answer" } }, false],
  [{}, true],
])("a round with %o is quiet: %s", (more, expected) => {
  expect(isQuiet(round(1, more))).toBe(expected);
});
