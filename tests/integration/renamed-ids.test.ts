import { cpSync, mkdtempSync, readdirSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, expect, test } from "vitest";
import { ensureMonths, migrate, openPool } from "@/store";
import { freshDatabase } from "../support/world";

const folder = mkdtempSync(join(tmpdir(), "umbrik-before-"));
afterAll(() => rmSync(folder, { recursive: true }));

test("what was stored of a resource before ids were told apart by account is found under its new id, all of it", async () => {
  const all = readdirSync("db/migrations").sort();
  for (const name of all.filter((one) => one < "0016")) cpSync(join("db/migrations", name), join(folder, name));
  const database = await freshDatabase();
  const pool = openPool(database.url);
  await migrate(pool, folder);
  for (const table of ["metric_day", "spend_day"] as const) await ensureMonths(pool, table, ["2027-03"]);
  await pool.query(`
    insert into account (name, provider, base_url, key) values ('a', 'p', 'http://x', 'k'), ('b', 'p', 'http://x', 'k');
    insert into resource (id, account, name, kind, region, zone, size, os, purchase, tags, state, level, target, level_max, since,
      cores, memory_gib, disk_gib, disk_class, addresses, attached_to)
    select id, account, id, kind, 'r', '', '', '', '', '{}', 'running', 1, 1, 1, now(), 1, 1, 1, '', 0, attached
    from (values ('101', 'a', 'machine', null), ('102', 'b', 'disk', '101')) as line (id, account, kind, attached);
    insert into state_change (account, n, resource_id, at, type, state, level, note) values ('a', 1, '101', now(), 'x', 'running', 1, '');
    insert into resource_version (resource_id, number, at, body) values ('101', 1, now(), '{}');
    insert into metric_day (resource_id, metric, day, step_s, samples) values ('101', 'cpu', '2027-03-01', 300, '{1}');
    insert into spend_day (day, resource_id, compute, licence, disk, address, image, covered, seconds_on)
      values ('2027-03-01', '101', 1, 0, 0, 0, 0, 0, 1), ('2027-03-01', 'commitment:7', 1, 0, 0, 0, 0, 0, 0);
    insert into round (mode, asked_by, at, status) values ('act', 'w', now(), 'done');
    insert into decision (round_id, is_rehearsal, resource_id, actual, verdict, why, chain) values (1, false, '101', 1, 'left', '', '[]');
    insert into action (key, round_id, resource_id, account, verb, level, status, recorded_at, try_again_at, deadline)
      values ('k', 1, '101', 'a', 'stop', 0, 'done', now(), now(), now());
    insert into last_due (resource_id, level) values ('101', 1);
    insert into hold (resource_id, level, from_at, to_at, reason, person) values ('101', 1, now(), now() + interval '1 hour', 'x', 'p');
    insert into meant (stray, until_day, reason, person, at)
      values ('running long: 101', '2027-04-01', 'x', 'p', now()), ('tag that names nothing: 101 team=x', '2027-04-01', 'x', 'p', now());
  `);
  expect(await migrate(pool, "db/migrations")).toEqual(all.filter((one) => one >= "0016"));
  const ids = async (table: string, column = "resource_id") =>
    (await pool.query<{ id: string }>(`select ${column} as id from ${table} order by 1`)).rows.map(({ id }) => id);
  expect(await ids("resource", "id")).toEqual(["a:101", "b:102"]);
  expect(await ids("resource", "attached_to")).toEqual(["a:101", null]);
  for (const table of ["state_change", "resource_version", "metric_day", "decision", "action", "last_due", "override"])
    expect(await ids(table), table).toEqual(["a:101"]);
  expect(await ids("spend_day")).toEqual(["a:101", "commitment:7"]);
  expect(await ids("acknowledged", "stray")).toEqual(["running long: a:101", "tag that names nothing: a:101 team=x"]);
  await pool.end();
  await database.drop();
});
