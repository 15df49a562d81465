import { expect, test } from "vitest";
import { AppError } from "@/core/error";
import { parseSelector } from "@/core/selector";
import { ListTooLongError } from "@/store";
import { NotAllowedError, ProviderError, RefusedError } from ".";

test("whatever was thought of is an AppError with a code, its facts and a message to show; its cause is kept", () => {
  const cause = new Error("socket");
  const errors = [
    new RefusedError("invalid", "No.", [{ path: "name", message: "taken" }]),
    new NotAllowedError("k.lomvi", "stop"),
    new ProviderError("it does not answer", { cause }),
    new ListTooLongError("fleets", 3),
  ];
  expect(errors.every((error) => error instanceof AppError)).toBe(true);
  expect(errors.map(({ code }) => code)).toEqual(["invalid", "not_allowed", "provider", "list_too_long"]);
  expect(errors.map(({ facts }) => facts)).toEqual([
    { fields: [{ path: "name", message: "taken" }] },
    { actor: "k.lomvi", right: "stop" },
    {},
    { what: "fleets", most: 3 },
  ]);
  expect(errors[2]?.cause).toBe(cause);
  expect(() => parseSelector("team =")).toThrow(AppError);
});
