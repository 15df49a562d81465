import { expect, test } from "vitest";
import type { Attention } from "../rounds";
import { attentionWords } from "./attention-words";

test("what needs a person says what, of whom and why; what is one question has one key however often it is asked", () => {
  const held = (round: number): Attention =>
    ({ kind: "held", round, stops: 12, of: 40, running: 90, isLimit: false }) as unknown as Attention;
  expect(attentionWords(held(4)).text).toBe("12 stops are held until a person lets them go");
  expect(attentionWords(held(4)).key).toBe(attentionWords(held(5)).key);
  expect(attentionWords(held(5)).path).toBe("/rounds/5");
  const unread = (part: string | null): Attention => ({
    kind: "unread",
    account: "south",
    part,
    error: "it answered 500",
    readAt: 5,
  });
  expect(attentionWords(unread(null)).text).toBe("south cannot be read: it answered 500");
  expect(attentionWords(unread("prices")).text).toBe("The prices of south cannot be read: it answered 500");
  expect(attentionWords(unread("prices")).key).not.toBe(attentionWords(unread(null)).key);
  const ill = (care: "replace" | "restart" | "tell"): Attention => ({
    kind: "unhealthy",
    fleet: "tides",
    count: 3,
    names: ["a", "b"],
    care,
  });
  expect(attentionWords(ill("tell")).text).toBe(
    "3 of tides are unhealthy and not replaced: a, b and 1 more. Its plan replaces none.",
  );
  expect(attentionWords(ill("restart")).text).toContain("restarts them, which no provider here can");
  expect(attentionWords(ill("replace")).text).toContain("At most 3 are replaced within a day");
});
