import { accountNameIssue } from "@/core/plan";
import { PROVIDER_KINDS } from "@/provider";
import { type AccountSetUp, accountList, dropEverything, migrate, saveAccount, touch, whatTablesHold } from "@/store";
import { type Actor, authorise, ESTATE } from "./actor";
import type { Services } from "./context";
import { RefusedError } from "./errors";

/** Brings the database to the newest schema; the names of the migrations it ran. */
export async function migrateDatabase({ pool }: Services, actor: Actor, folder: string): Promise<string[]> {
  authorise(actor, "set up", ESTATE);
  return migrate(pool, folder);
}

/** Empties a database that Umbrik made. One that holds tables of something else is left alone, and that is an error. */
export async function emptyDatabase({ pool }: Services, actor: Actor): Promise<void> {
  authorise(actor, "set up", ESTATE);
  const holds = await whatTablesHold(pool);
  if (holds === "something else") throw new Error("this database holds tables of something else: --fresh leaves it alone");
  await dropEverything(pool);
}

/** Sets the accounts up, or corrects their addresses. True where there were none before. */
export async function connectAccounts(services: Services, actor: Actor, accounts: readonly AccountSetUp[]): Promise<boolean> {
  authorise(actor, "set up", ESTATE);
  for (const { name, kind } of accounts) {
    const isUnknown = kind !== undefined && !Object.hasOwn(PROVIDER_KINDS, kind);
    const kinds = Object.keys(PROVIDER_KINDS).join(" or ");
    const issue = accountNameIssue(name) ?? (isUnknown ? `it is of the kind "${kind}", expected ${kinds}` : null);
    if (issue) throw new RefusedError("invalid", `The account ${name}: ${issue}.`);
  }
  const isNew = (await accountList(services.pool)).length === 0;
  for (const account of accounts) await saveAccount(services.pool, account);
  return isNew;
}

/** Throws where the database does not answer. */
export async function isAnswering({ pool }: Services, actor: Actor): Promise<void> {
  authorise(actor, "look", ESTATE);
  await touch(pool);
}
