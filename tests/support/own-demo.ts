import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type Demo, startDemo } from "../../bin/lib/demo.mjs";
import { freshDatabase } from "./world";

export type OwnDemo = Readonly<Omit<Demo, "stop"> & { close: () => Promise<void> }>;

/** The whole application with its demo, as `npm start` runs it, on a database and in a folder of its own. */
export async function startOwnDemo(): Promise<OwnDemo> {
  const database = await freshDatabase();
  const state = mkdtempSync(join(tmpdir(), "umbrik-demo-"));
  const { stop, ...demo } = await startDemo({ databaseUrl: database.url, state, port: 0 });
  return {
    ...demo,
    close: async () => {
      await stop();
      await database.drop();
      rmSync(state, { recursive: true, force: true });
    },
  };
}
