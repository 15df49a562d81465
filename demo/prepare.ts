import { readFileSync } from "node:fs";
import { parseArgs } from "node:util";
import { connectAccounts, DEMO_ACTOR, openServices } from "@/services/admin";
import { setOwnersMail } from "@/services/idle";
import { loadPlan } from "@/services/plans";
import { saveReport } from "@/services/report";
import { prepareDatabase } from "../src/worker/prepare-database";
import { ACCOUNTS } from "./accounts";
import { IN_FORCE, OWNERS, REPORT } from "./world";

/** Makes a database ready and loads the demo scenario into an empty one: `--standin URL`, and `--fresh` to begin again. */
const { values } = parseArgs({ options: { standin: { type: "string" }, fresh: { type: "boolean", default: false } } });
if (values.standin === undefined) throw new Error("--standin: the address of the stand-in clouds");
const services = openServices(process.env);
await prepareDatabase(services, { isFresh: values.fresh });
await loadDemo(values.standin);
await services.pool.end();

async function loadDemo(standinUrl: string): Promise<void> {
  // The stand-in takes a free port at every start, so its address is written each time.
  const accounts = ACCOUNTS.map(({ name, provider, key }) => ({ name, provider, key, baseUrl: `${standinUrl}/${provider}` }));
  const isNew = await connectAccounts(services, DEMO_ACTOR, accounts);
  if (!isNew) return;
  await loadPlan(services, DEMO_ACTOR, { text: readFileSync("demo/plan.yaml", "utf8"), inForce: IN_FORCE });
  await setOwnersMail(services, DEMO_ACTOR, OWNERS);
  await saveReport(services, DEMO_ACTOR, { id: null, version: 0, draft: REPORT });
}
