import { providerIdOf, type Resource } from "@/core/plan";
import { type NameIndex, type NamingRule, nameIndex } from "@/core/samples";
import { keptBeside, type Pool, resourceList } from "@/store";

/** The machines that a rule can name, by their names; kept while the list of resources stands. */
export async function machineNames(pool: Pool, naming: NamingRule): Promise<NameIndex> {
  const resources: readonly Resource[] = await resourceList(pool);
  const byRule = keptBeside("names of machines", resources, { make: () => new Map<string, NameIndex>() });
  const key = JSON.stringify([naming.names, naming.tag, naming.account]);
  const known = byRule.get(key) ?? nameIndex(naming, nameables(resources));
  byRule.set(key, known);
  return known;
}

function* nameables(resources: readonly Resource[]) {
  for (const { id, name, kind, state, tags, fields } of resources) {
    if (kind === "disk" || kind === "address" || state === "gone") continue;
    const { account = "" } = fields;
    yield { id, providerId: providerIdOf(id, account), name, account, tags };
  }
}
