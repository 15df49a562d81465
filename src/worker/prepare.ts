import { parseArgs } from "node:util";
import { openServices } from "@/services";
import { prepareDatabase } from "./prepare-database";

/** Brings the database to the newest schema. `--fresh` empties it first, but only a database that Umbrik made. */
const { values } = parseArgs({ options: { fresh: { type: "boolean", default: false } } });
const services = openServices(process.env);
await prepareDatabase(services, { isFresh: values.fresh });
await services.pool.end();
