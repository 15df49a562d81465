import { spawnSync } from "node:child_process";
import { chownSync, mkdirSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { afterAll, beforeAll, expect, test } from "vitest";
import { openPool, type Pool } from "@/store";
import { postgresFolder } from "../../bin/lib/debian.mjs";
import { freePort } from "../../bin/lib/ports.mjs";
import { type Server, startPostgres } from "../../bin/lib/postgres.mjs";
import { within } from "../support/patience";

/** A real streaming standby that is promoted: a pool on both hosts follows. */
let folder: string;
let primary: Server;
let standbyPort: number;
let pool: Pool;
const bin = postgresFolder() ?? "";

/** Runs one of PostgreSQL's programs as the user whose cluster it is. */
function run(program: string, args: readonly string[], env: Record<string, string> = {}): string {
  const { uid, gid } = statSync(join(folder, "pg"));
  const done = spawnSync(join(bin, program), [...args], {
    cwd: "/",
    encoding: "utf8",
    uid,
    gid,
    env: { ...process.env, ...env },
  });
  if (done.status !== 0) throw new Error(`${program}: ${done.stderr}`);
  return done.stdout;
}

beforeAll(async () => {
  folder = mkdtempSync("/var/tmp/umbrik-standby-");
  // Another user runs the cluster, and has to get in.
  spawnSync("chmod", ["755", folder]);
  primary = await startPostgres(folder);
  const { username, password, port } = new URL(primary.url);
  const standby = join(folder, "standby");
  const { uid, gid } = statSync(join(folder, "pg"));
  mkdirSync(standby, { mode: 0o700 });
  chownSync(standby, uid, gid);
  const hba = join(folder, "pg/pg_hba.conf");
  writeFileSync(hba, `${readFileSync(hba, "utf8")}\nhost replication all 127.0.0.1/32 scram-sha-256\n`);
  run("pg_ctl", ["-D", join(folder, "pg"), "reload"]);
  run("pg_basebackup", ["-h", "127.0.0.1", "-p", port, "-U", username, "-D", standby, "-R", "-X", "stream", "-c", "fast"], {
    PGPASSWORD: password,
  });
  standbyPort = await freePort();
  const options = `-c listen_addresses=127.0.0.1 -c unix_socket_directories='' -p ${standbyPort}`;
  run("pg_ctl", ["-D", standby, "-l", join(standby, "server.log"), "-w", "-o", options, "start"]);
  pool = openPool(primary.url.replace(`127.0.0.1:${port}`, `127.0.0.1:${standbyPort},127.0.0.1:${port}`));
}, within(60));
afterAll(async () => {
  await pool?.end();
  try {
    run("pg_ctl", ["-D", join(folder, "standby"), "-m", "immediate", "stop"]);
  } catch {
    // It never came up.
  }
  primary?.stop();
  rmSync(folder, { recursive: true, force: true });
});

test("writes go to the primary though the standby stands first, and to the standby once it is promoted", async () => {
  await pool.query("create table kept (n integer)");
  await pool.query("insert into kept values (1)");
  const portOf = async () => (await pool.query<{ port: string }>("select current_setting('port') as port")).rows[0]?.port;
  expect(await portOf()).not.toBe(String(standbyPort));
  // As soon as it has what the primary has.
  for (let i = 0; i < 100; i++) {
    const { rows } = await pool.query(
      "select coalesce(bool_and(replay_lsn = pg_current_wal_lsn()), false) as even from pg_stat_replication",
    );
    if (rows[0]?.even) break;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  primary.crash();
  await expect(pool.query("insert into kept values (2)")).rejects.toThrow();
  run("pg_ctl", ["-D", join(folder, "standby"), "-w", "promote"]);
  let isBack = false;
  for (let i = 0; i < 100 && !isBack; i++) {
    isBack = await pool.query("insert into kept values (3)").then(
      () => true,
      () => false,
    );
    if (!isBack) await new Promise((resolve) => setTimeout(resolve, 100));
  }
  expect(isBack).toBe(true);
  expect(await portOf()).toBe(String(standbyPort));
  expect((await pool.query("select n from kept order by n")).rows).toEqual([{ n: 1 }, { n: 3 }]);
});
