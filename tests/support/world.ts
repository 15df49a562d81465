import { randomBytes } from "node:crypto";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { runMigrations } from "graphile-worker";
import pg from "pg";
import { connectAccounts, DEMO_ACTOR, migrateDatabase, openServices, type Services } from "@/services/admin";
import { loadPlan } from "@/services/plans";
import { migrate, openPool, type Pool } from "@/store";
import { startNode, typescript } from "../../bin/lib/processes.mjs";
import { ACCOUNTS } from "../../demo/accounts";
import { IN_FORCE } from "../../demo/world";

/** A database of its own on the test server, and a function that drops it. */
export async function freshDatabase(): Promise<{ url: string; drop: () => Promise<void> }> {
  const server = process.env.UMBRIK_TEST_SERVER;
  if (!server) throw new Error("UMBRIK_TEST_SERVER is not set: run the tests with `npm test`");
  const name = `t_${randomBytes(6).toString("hex")}`;
  await onServer(server, `create database ${name}`);
  const url = new URL(server);
  url.pathname = `/${name}`;
  return { url: String(url), drop: () => onServer(server, `drop database ${name} with (force)`) };
}

/** A database of its own with this version's tables, two accounts in it, and nothing else. */
export async function storeOfTest(): Promise<{ pool: Pool; close: () => Promise<void> }> {
  const { url, drop } = await freshDatabase();
  const pool = openPool(url);
  await migrate(pool, "db/migrations");
  await pool.query(
    "insert into account (name, provider, base_url, key) values ('a1', 'p1', 'http://x', 'k'), ('a2', 'p1', 'http://x', 'k')",
  );
  return {
    pool,
    close: async () => {
      await pool.end();
      await drop();
    },
  };
}

async function onServer(server: string, statement: string): Promise<void> {
  const client = new pg.Client({ connectionString: server });
  await client.connect();
  try {
    await client.query(statement);
  } finally {
    await client.end();
  }
}

export type Standin = Readonly<{ url: string; mailPort: number; stop: () => Promise<void>; restart: () => Promise<Standin> }>;

/** The stand-in clouds as a process of their own, their clock stopped so that tests move it. */
export async function startStandin(folder = mkdtempSync(join(tmpdir(), "umbrik-standin-"))): Promise<Standin> {
  const started = startNode(typescript("standin/main.ts", ["--state", folder]));
  const { port, mailPort } = JSON.parse(await started.firstLine) as { port: number; mailPort: number };
  const url = `http://127.0.0.1:${port}`;
  await post(`${url}/clock`, { rate: 0 });
  return {
    url,
    mailPort,
    stop: async () => {
      await started.stop();
      rmSync(folder, { recursive: true, force: true });
    },
    restart: async () => {
      await started.stop();
      return startStandin(folder);
    },
  };
}

export async function post(
  url: string,
  body: unknown,
  headers: Record<string, string> = {},
): Promise<{ status: number; body: unknown }> {
  const response = await fetch(url, {
    method: "POST",
    body: JSON.stringify(body),
    headers: { "content-type": "application/json", ...headers },
  });
  return { status: response.status, body: await response.json().catch(() => null) };
}

export async function get<T = unknown>(url: string, key?: string): Promise<T> {
  const response = await fetch(url, key ? { headers: { authorization: `Bearer ${key}` } } : {});
  return (await response.json()) as T;
}

export type TestWorld = Readonly<{
  services: Services;
  standin: Standin;
  databaseUrl: string;
  /** Lets the stand-in's clock jump ahead by seconds. */
  wait: (seconds: number) => Promise<void>;
  stepTo: (to: number) => Promise<void>;
  close: () => Promise<void>;
}>;

/** The demo scenario on a real database and the real stand-in, without a worker: tests run the rounds. */
export async function startWorld(): Promise<TestWorld> {
  const [database, standin] = await Promise.all([freshDatabase(), startStandin()]);
  const services = openServices({
    DATABASE_URL: database.url,
    UMBRIK_CLOCK_URL: `${standin.url}/clock`,
    SMTP_URL: `smtp://127.0.0.1:${standin.mailPort}`,
    UMBRIK_SINK_URL: `${standin.url}/mail`,
    UMBRIK_LOCAL_SOURCES: "allow",
  });
  await migrateDatabase(services, DEMO_ACTOR, "db/migrations");
  await runMigrations({ pgPool: services.pool });
  await connectAccounts(
    services,
    DEMO_ACTOR,
    ACCOUNTS.map(({ name, provider, key }) => ({ name, provider, key, baseUrl: `${standin.url}/${provider}` })),
  );
  await loadPlan(services, DEMO_ACTOR, { text: readFileSync("demo/plan.yaml", "utf8"), inForce: IN_FORCE });
  const stepTo = async (to: number) => {
    await services.clock.stepTo(to);
  };
  return {
    services,
    standin,
    databaseUrl: database.url,
    wait: async (seconds) => stepTo((await services.clock.read()).now + seconds),
    stepTo,
    close: async () => {
      await services.pool.end();
      await standin.stop();
      await database.drop();
    },
  };
}
