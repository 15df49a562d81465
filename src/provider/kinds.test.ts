import { expect, test } from "vitest";
import { DEFAULT_KIND, PROVIDER_KINDS, ProviderError, partsOf } from ".";

const ACCOUNT = { name: "a", provider: "p1", baseUrl: "http://127.0.0.1:1", key: "k" };

test("an account is asked by its kind, and one of a kind that nothing knows is an error with its name", () => {
  const parts = partsOf({ ...ACCOUNT, kind: DEFAULT_KIND });
  expect(Object.keys(PROVIDER_KINDS)).toEqual([DEFAULT_KIND]);
  expect(Object.values(parts).every((part) => part !== null)).toBe(true);
  for (const kind of ["other", "constructor", "__proto__"]) {
    expect(() => partsOf({ ...ACCOUNT, kind })).toThrow(ProviderError);
    expect(() => partsOf({ ...ACCOUNT, kind })).toThrow(`the kind ${kind}`);
  }
});
