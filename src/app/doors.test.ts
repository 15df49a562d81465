import { expect, test } from "vitest";
import { isKnownHost, policyFor } from "./doors";

const ENV = { UMBRIK_URL: "https://umbrik.example:8443", UMBRIK_HOSTS: "other.example, 10.0.0.7" };

test.each([
  ["127.0.0.1:4780", true],
  ["localhost", true],
  ["[::1]:4780", true],
  ["umbrik.example:8443", true],
  ["UMBRIK.example", true],
  ["other.example:80", true],
  ["10.0.0.7:4780", true],
  ["evil.example", false],
  ["umbrik.example.evil.example", false],
  ["10.0.0.8", false],
  ["", false],
  ["a b", false],
  [null, false],
])("a request for %s is let in: %s", (host, expected) => {
  expect(isKnownHost(host, ENV)).toBe(expected);
});

test("a page runs no script but its own", () => {
  expect(policyFor("n")).toContain("script-src 'self' 'nonce-n'");
  expect(policyFor("n")).toContain("frame-ancestors 'none'");
});
