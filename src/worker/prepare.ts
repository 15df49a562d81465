import { parseArgs } from "node:util";
import { connectAccounts, DEMO_ACTOR, openServices } from "@/services/admin";
import { readAccounts } from "./accounts-file";
import { prepareDatabase } from "./prepare-database";

/**
 * Brings the database to the newest schema, and sets up the accounts of the file that UMBRIK_ACCOUNTS names.
 * `--fresh` empties the database first, but only one that Umbrik made.
 */
const { values } = parseArgs({ options: { fresh: { type: "boolean", default: false } } });
// Read first: a file with a mistake in it changes nothing.
const accounts = process.env.UMBRIK_ACCOUNTS ? readAccounts(process.env.UMBRIK_ACCOUNTS) : [];
const services = openServices(process.env);
await prepareDatabase(services, { isFresh: values.fresh });
await connectAccounts(services, DEMO_ACTOR, accounts);
await services.pool.end();
