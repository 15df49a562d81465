import { expect, test } from "vitest";
import { authorise, DEMO_PERSON, NotAllowedError, ROUNDS_WORKER } from "./person";

test("the worker may run rounds and look, and never change a plan", () => {
  expect(() => authorise(ROUNDS_WORKER, "run rounds")).not.toThrow();
  expect(() => authorise(ROUNDS_WORKER, "put in force")).toThrow(NotAllowedError);
  expect(() => authorise(ROUNDS_WORKER, "edit plans")).toThrow("worker may not edit plans.");
  expect(() => authorise(DEMO_PERSON, "move the clock")).not.toThrow();
});
