import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, expect, test } from "vitest";
import { readAccounts } from "./accounts-file";

const folder = mkdtempSync(join(tmpdir(), "umbrik-accounts-"));
afterAll(() => rmSync(folder, { recursive: true }));
const file = (text: string) => {
  const path = join(folder, "accounts.json");
  writeFileSync(path, text);
  return path;
};
const ONE = { name: "desks", provider: "norrhav", baseUrl: "https://cloud.example/v1", key: "secret-key" };

test("accounts are read from a file, and what is wrong in it is said by its place and without a key", () => {
  expect(readAccounts(file(JSON.stringify([ONE])))).toEqual([ONE]);
  expect(() => readAccounts(file("{"))).toThrow("it is not JSON");
  expect(() => readAccounts(join(folder, "none"))).toThrow("it cannot be read");
  expect(() => readAccounts(file(JSON.stringify([{ ...ONE, baseUrl: "secret-key" }])))).toThrow("0.baseUrl");
  for (const name of ["a:b", "commitment", " ", "x".repeat(81)])
    expect(() => readAccounts(file(JSON.stringify([{ ...ONE, name }])))).toThrow("0.name");
  expect(() => readAccounts(file(JSON.stringify([ONE, ONE])))).toThrow('1.name: "desks" is there twice');
  try {
    readAccounts(file(JSON.stringify([{ ...ONE, more: 1 }])));
    expect.unreachable();
  } catch (error) {
    expect(String(error)).not.toContain("secret-key");
  }
});
