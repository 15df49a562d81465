import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import pg from "pg";
import { startDemo } from "../bin/lib/demo.mjs";
import { freshDatabase } from "../tests/support/world";

export type BenchDemo = Readonly<{ url: string; client: pg.Client; env: Readonly<Record<string, string>> }>;

/** The built application on the demo's data, its clock stopped and its first reading done. */
export async function withDemo(work: (demo: BenchDemo) => Promise<void>): Promise<void> {
  const database = await freshDatabase();
  const state = mkdtempSync(join(tmpdir(), "umbrik-bench-"));
  const demo = await startDemo({ databaseUrl: database.url, state, port: 0 });
  const client = new pg.Client({ connectionString: database.url });
  try {
    await fetch(`${demo.standinUrl}/clock`, { method: "POST", body: JSON.stringify({ rate: 0 }) });
    await untilRead(demo.url);
    await client.connect();
    // The first reading of metrics would share the machine with what is measured.
    for (let isBusy = true; isBusy; ) {
      const { rows } = await client.query("select count(*)::integer as jobs from graphile_worker.jobs");
      isBusy = rows[0].jobs > 0;
      await new Promise((resolve) => setTimeout(resolve, 300));
    }
    await work({ url: demo.url, client, env: demo.env });
  } finally {
    await client.end();
    await demo.stop();
    await database.drop();
    rmSync(state, { recursive: true, force: true });
  }
}

async function untilRead(url: string): Promise<void> {
  for (let i = 0; i < 100; i++) {
    const page = (await fetch(`${url}/api/burn`).then((response) => response.json())) as { all: { count: number } };
    if (page.all.count > 100) return;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  throw new Error("no round has read the clouds");
}
