import { spawnSync } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, expect, test } from "vitest";
import { within } from "../support/patience";

/** Files and flags that nobody means: the command says in a line what is wrong with them, and ends with 1 or 2. */
const folder = mkdtempSync(join(tmpdir(), "umbrik-odd-"));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function fileOf(content: string | Uint8Array): string {
  const path = join(folder, "odd");
  writeFileSync(path, content);
  return path;
}

const LETTERS = [..."abcdefghi"];
const BOMB = LETTERS.map(
  (name, i) => `${name}: &${name} [${Array.from({ length: 9 }, () => (i === 0 ? "x" : `*${LETTERS[i - 1]}`))}]`,
);
const ODD: readonly (string | Uint8Array)[] = [
  "",
  "a\u0000b",
  "umbrik: 1\nschedules: [&a [*a]]\n",
  BOMB.join("\n"),
  "[".repeat(100_000),
  `{"resources":${"[".repeat(100_000)}`,
  `umbrik: 1\n${Array.from({ length: 5000 }, (_, i) => `k${i}: 1`).join("\n")}`,
  '{"__proto__": {"x": 1}, "resources": []}',
  Uint8Array.from({ length: 256 }, (_, i) => i),
  "umbrik: 1\nschedules: [{ name: '\u202e', zone: Mars/Base, rows: [{ day: never, spans: ['99:99-00:00'] }] }]\n",
];

function refuses(...args: string[]): void {
  const { status, stdout, stderr } = spawnSync("bin/umbrik", args, { encoding: "utf8", timeout: 15_000 });
  const what = args.join(" ").slice(0, 120);
  expect([1, 2], what).toContain(status);
  expect(stdout, what).toBe("");
  expect(stderr, what).toMatch(/^umbrik: /);
  expect(stderr, "a reason, not a stack").not.toMatch(/^\s+at .*:\d+:\d+/m);
}

test(
  "a plan or an inventory that nobody means is refused with a place and a reason",
  () => {
    expect.hasAssertions();
    for (const content of ODD) {
      const path = fileOf(content);
      refuses("hours", "next", "--plan", path, "--schedule", "x", "--at", "2027-01-01T00:00:00Z", "--count", "1");
      refuses("select", "--inventory", path, "--selector", "name = a");
    }
  },
  within(90),
);

test(
  "flags that nobody means are refused, too",
  () => {
    expect.hasAssertions();
    const span = ["--from", "2027-01-01T00:00:00Z", "--to", "2027-01-02T00:00:00Z"];
    const plan = ["--plan", "demo/plan.yaml"];
    refuses("select", "--inventory", fileOf('{"resources": []}'), "--selector", "(".repeat(20_000));
    refuses("hours", "line", "Mo-Fr ".repeat(20_000), "--zone", "UTC", ...span);
    refuses("hours", "line", "Mo-Fr 07:00-18:00", "--zone", "../../etc/passwd", ...span);
    refuses("hours", "expand", "--plan", "/etc", "--schedule", "x", ...span);
    refuses("hours", "next", ...plan, "--schedule", "classroom", "--at", "2027-01-01T00:00:00Z", "--count", "-1");
    refuses(
      "hours",
      "expand",
      ...plan,
      "--schedule",
      "classroom",
      "--from",
      "0001-01-01T00:00:00Z",
      "--to",
      "9999-01-01T00:00:00Z",
    );
    refuses("hours", "explain", ...plan, "--schedule", "__proto__", "--at", "2027-01-01T00:00:00Z");
    refuses("price", "run", "--rate", "1e999", "--granularity", "0", "--minimum", "-1", ...span);
  },
  within(60),
);
