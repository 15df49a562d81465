import { type ChildProcess, spawn, spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, expect, test } from "vitest";
import { within } from "../support/patience";
import { freshDatabase, get, post } from "../support/world";

const data = mkdtempSync("/var/tmp/umbrik-start-");
afterAll(() => rmSync(data, { recursive: true, force: true }));

type Started = { child: ChildProcess; url: string; tookMs: number; stop: () => Promise<number | null> };

/** Runs the start script as a person would, up to the line with the URL. */
async function start(args: string[] = [], env: Record<string, string> = {}): Promise<Started> {
  const began = performance.now();
  const { DATABASE_URL: _, ...inherited } = process.env;
  const child = spawn(process.execPath, ["bin/start.mjs", "--port", "0", ...args], {
    env: { ...inherited, UMBRIK_DATA: data, NODE_ENV: "production", ...env },
  });
  const ended = new Promise<number | null>((resolve) => child.once("exit", resolve));
  const url = await new Promise<string>((resolve, reject) => {
    let text = "";
    const read = (part: Buffer) => {
      text += part;
      const found = /running at (\S+)/.exec(text);
      if (found) resolve(found[1] as string);
    };
    child.stdout.on("data", read);
    child.stderr.on("data", read);
    child.once("exit", () => reject(new Error(text)));
  });
  return {
    child,
    url,
    tookMs: performance.now() - began,
    stop: () => {
      child.kill("SIGINT");
      return ended;
    },
  };
}

const fleets = async (url: string) => (await (await fetch(`${url}/fleets`)).text()).includes("kept-over-a-restart");

test("the first start makes everything, Ctrl-C stops it cleanly, a second start keeps the data, --fresh starts over", {
  timeout: within(240),
}, async () => {
  const first = await start();
  expect(await get(`${first.url}/api/health`)).toMatchObject({ ok: true, isDemo: true });
  await post(`${first.url}/api/fleets`, { name: "kept-over-a-restart", select: "team = tides" });
  await expect(start()).rejects.toThrow("running already");
  expect(await first.stop()).toBe(0);
  await expect(fetch(first.url)).rejects.toThrow();

  const second = await start();
  expect(await fleets(second.url)).toBe(true);
  expect(await second.stop()).toBe(0);

  const third = await start(["--fresh"]);
  expect(await fleets(third.url)).toBe(false);
  expect(await third.stop()).toBe(0);
});

test("with DATABASE_URL it uses that server, and --fresh leaves a database of something else alone", {
  timeout: within(120),
}, async () => {
  const database = await freshDatabase();
  const folder = mkdtempSync(join(tmpdir(), "umbrik-elsewhere-"));
  try {
    const started = await start([], { DATABASE_URL: database.url, UMBRIK_DATA: folder });
    expect(await get(`${started.url}/api/health`)).toMatchObject({ ok: true });
    await started.stop();
    const other = await freshDatabase();
    const { default: pg } = await import("pg");
    const client = new pg.Client({ connectionString: other.url });
    await client.connect();
    await client.query("create table theirs (n integer)");
    await expect(start(["--fresh"], { DATABASE_URL: other.url, UMBRIK_DATA: folder })).rejects.toThrow("leaves it alone");
    expect((await client.query("select count(*)::integer as n from theirs")).rows).toEqual([{ n: 0 }]);
    await client.end();
    await other.drop();
  } finally {
    rmSync(folder, { recursive: true, force: true });
    await database.drop();
  }
});

/** Runs the start script to its end; what it said. */
async function ends(env: Record<string, string>): Promise<{ code: number | null; said: string }> {
  const { DATABASE_URL: _, ...inherited } = process.env;
  const child = spawn(process.execPath, ["bin/start.mjs", "--port", "0"], { env: { ...inherited, ...env } });
  let said = "";
  child.stderr.on("data", (part) => {
    said += part;
  });
  const code = await new Promise<number | null>((resolve) => child.once("exit", resolve));
  return { code, said };
}

test("a folder that nothing can be kept in is a sentence, at once", async () => {
  const folder = mkdtempSync(join(tmpdir(), "umbrik-no-"));
  writeFileSync(join(folder, "file"), "");
  for (const [path, why] of [
    ["/proc/umbrik", "nothing can be kept there"],
    [join(folder, "file/below"), "a file stands in its way"],
  ] as const) {
    const { code, said } = await ends({ UMBRIK_DATA: path });
    expect(code).toBe(1);
    expect(said).toContain(why);
    expect(said).not.toContain("    at ");
  }
  rmSync(folder, { recursive: true });
});

test("a start that is killed leaves no part behind, a part that is killed comes back, and a lost password is made anew", {
  timeout: within(240),
}, async () => {
  const folder = mkdtempSync("/var/tmp/umbrik-killed-");
  const partsOf = () =>
    spawnSync("pgrep", ["-f", "standin/main.ts|worker/main.ts"], { encoding: "utf8" })
      .stdout.split("\n")
      .filter((pid) => pid !== "" && environmentOf(pid).includes(folder));
  // The stand-in's folder stands in its arguments; the worker is known by its database.
  const environmentOf = (pid: string) => {
    try {
      return readFileSync(`/proc/${pid}/cmdline`, "utf8") + readFileSync(`/proc/${pid}/environ`, "utf8");
    } catch {
      return "";
    }
  };
  const first = await start([], { UMBRIK_DATA: folder });
  const [part] = partsOf();
  expect(part).toBeDefined();
  process.kill(Number(part), "SIGKILL");
  for (
    let i = 0;
    i < 100 && (await get<{ ok?: boolean }>(`${first.url}/api/health`).catch(() => ({ ok: false }))).ok !== true;
    i++
  )
    await new Promise((resolve) => setTimeout(resolve, 200));
  expect(await get(`${first.url}/api/health`)).toMatchObject({ ok: true });
  first.child.kill("SIGKILL");
  for (let i = 0; i < 100 && partsOf().length > 0; i++) await new Promise((resolve) => setTimeout(resolve, 200));
  expect(partsOf()).toEqual([]);
  rmSync(join(folder, "password"));
  const second = await start([], { UMBRIK_DATA: folder });
  expect(await get(`${second.url}/api/health`)).toMatchObject({ ok: true });
  expect(await second.stop()).toBe(0);
  rmSync(folder, { recursive: true, force: true });
});
