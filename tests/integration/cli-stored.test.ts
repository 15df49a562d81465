import { spawnSync } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR, WORKER } from "@/services/admin";
import { closeSpendDays } from "@/services/cost";
import { saveReport } from "@/services/report";
import { runRound } from "@/services/rounds";
import { pullUsage } from "@/services/usage";
import { startWorld, type TestWorld } from "../support/world";

let world: TestWorld;
let folder: string;
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), "umbrik-cli-stored-"));
  world = await startWorld();
  await runRound(world.services, DEMO_ACTOR, "act");
  await closeSpendDays(world.services, WORKER);
  await pullUsage(world.services, WORKER);
  const draft = { name: "Evening", zone: "UTC", minute: 0, days: [], isOn: true };
  await saveReport(world.services, DEMO_ACTOR, { id: null, version: 0, draft });
});
afterAll(async () => {
  await world.close();
  rmSync(folder, { recursive: true, force: true });
});

function umbrik(...args: string[]) {
  const env = { ...process.env, DATABASE_URL: world.databaseUrl, UMBRIK_CLOCK_URL: `${world.standin.url}/clock` };
  const { stdout, stderr, status } = spawnSync(process.execPath, ["bin/umbrik", ...args], {
    encoding: "utf8",
    env,
    maxBuffer: 1 << 28,
  });
  return { stdout, stderr, status };
}
const number = (text: string) => Math.round(Number(text) * 1e6);

test("spend now gives the sums in six decimals, and its parts add up to them", () => {
  const { stdout, status } = umbrik("spend", "now");
  expect(status).toBe(0);
  const spend = JSON.parse(stdout);
  expect(spend).toMatchObject({ at: "2027-03-11T05:00:00Z", currency: "EUR" });
  expect(spend.running).toBeGreaterThan(140);
  for (const name of ["perHour", "soFar", "thisMonth", "byMonthEnd"]) expect(spend[name]).toMatch(/^\d+\.\d{6}$/);
  for (const parts of [spend.byRegion, spend.byOwner]) {
    const sum = parts.reduce((total: number, { amount }: { amount: string }) => total + number(amount), 0);
    // Each part is rounded to the millionth on its own.
    expect(Math.abs(sum - number(spend.perHour))).toBeLessThanOrEqual(parts.length);
  }
});

test("spend day gives a day that is over, and refuses one that is not or is none", () => {
  const { stdout, status } = umbrik("spend", "day", "--date", "2027-03-10");
  expect(status).toBe(0);
  const day = JSON.parse(stdout);
  const { compute, licence, disk, address, image, fees, covered } = day.byItem;
  const sum = [compute, licence, disk, address, image, fees].reduce((total, text) => total + number(text), 0) - number(covered);
  expect(Math.abs(sum - number(day.total))).toBeLessThanOrEqual(7);
  expect(umbrik("spend", "day", "--date", "2027-03-11")).toMatchObject({ status: 1 });
  expect(umbrik("spend", "day", "--date", "11.3.2027").stderr).toContain("is no date");
  expect(umbrik("spend", "day")).toMatchObject({ status: 2 });
});

test("focus export writes the file, focus import takes it in; a file that is none is exit 1, and twice the same too", () => {
  const out = umbrik("focus", "export", "--from", "2027-03-10", "--to", "2027-03-10");
  expect(out.status).toBe(0);
  const file = join(folder, "usage.csv");
  writeFileSync(file, out.stdout);
  const taken = umbrik("focus", "import", file);
  expect(taken.status).toBe(0);
  const result = JSON.parse(taken.stdout);
  expect(result).toMatchObject({ status: "done", linesRefused: 0, currency: "EUR", firstDay: "2027-03-10", refusals: [] });
  expect(result.linesTaken).toBe(out.stdout.trimEnd().split("\r\n").length - 1);
  expect(umbrik("focus", "import", file)).toMatchObject({ status: 1 });
  writeFileSync(file, "a,b\n1,2\n");
  expect(umbrik("focus", "import", file).stderr).toContain("BilledCost is missing");
  expect(umbrik("focus", "import", join(folder, "none.csv"))).toMatchObject({ status: 2 });
  expect(umbrik("focus", "export", "--from", "2027-03-10", "--to", "2027-03-09")).toMatchObject({ status: 1 });
});

test("a reader that has had enough of an export is no fault", () => {
  const line = `"${process.execPath}" bin/umbrik focus export --from 2027-03-09 --to 2027-03-10 | head -c 12`;
  const env = { ...process.env, DATABASE_URL: world.databaseUrl, UMBRIK_CLOCK_URL: `${world.standin.url}/clock` };
  expect(spawnSync("sh", ["-c", line], { encoding: "utf8", env })).toMatchObject({ stdout: "BilledCost,B", stderr: "" });
});

test("report send says which reports there are, and sends nothing to who has not confirmed", () => {
  expect(umbrik("report", "send", "--report", "Morning").stderr).toContain('there is "Evening"');
  expect(umbrik("report", "send", "--report", "Evening").stderr).toContain("before confirming");
  expect(umbrik("report", "send", "--report", "Evening", "--to", "x@y.example")).toMatchObject({ status: 1 });
});
