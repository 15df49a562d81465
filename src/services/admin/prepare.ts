import { accountNameIssue } from "@/core/plan";
import { type Account, accountList, dropEverything, migrate, saveAccount, touch, whatTablesHold } from "@/store";
import type { Services } from "./context";
import { RefusedError } from "./errors";
import { authorise, type Person } from "./person";

/** Brings the database to the newest schema; the names of the migrations it ran. */
export async function migrateDatabase({ pool }: Services, person: Person, folder: string): Promise<string[]> {
  authorise(person, "set up");
  return migrate(pool, folder);
}

/** Empties a database that Umbrik made. One that holds tables of something else is left alone, and that is an error. */
export async function emptyDatabase({ pool }: Services, person: Person): Promise<void> {
  authorise(person, "set up");
  const holds = await whatTablesHold(pool);
  if (holds === "something else") throw new Error("this database holds tables of something else: --fresh leaves it alone");
  await dropEverything(pool);
}

/** Sets the accounts up, or corrects their addresses. True where there were none before. */
export async function connectAccounts(
  services: Services,
  person: Person,
  accounts: readonly Pick<Account, "name" | "provider" | "baseUrl" | "key">[],
): Promise<boolean> {
  authorise(person, "set up");
  for (const { name } of accounts) {
    const issue = accountNameIssue(name);
    if (issue) throw new RefusedError("invalid", `The account ${name}: ${issue}.`);
  }
  const isNew = (await accountList(services.pool)).length === 0;
  for (const account of accounts) await saveAccount(services.pool, account);
  return isNew;
}

/** Throws where the database does not answer. */
export async function isAnswering({ pool }: Services, person: Person): Promise<void> {
  authorise(person, "look");
  await touch(pool);
}
