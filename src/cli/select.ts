import { inventorySchema, matcher, selectable, selectorWarnings, tryParseSelector } from "@/core/selector";
import { readFile } from "./files";
import { readFlags } from "./flags";
import { wrongUse } from "./problem";

/** `select --inventory F --selector TEXT` */
export function select(args: readonly string[]): unknown {
  const flags = readFlags(args, { inventory: "required", selector: "required" });
  const parsed = tryParseSelector(flags.selector);
  if (!parsed.ok)
    return wrongUse(`--selector: ${parsed.error.message}`, `  ${flags.selector}`, `  ${" ".repeat(parsed.error.at)}^`);
  const { resources } = readFile(flags.inventory, inventorySchema);
  const views = resources.map(selectable);
  const matches = matcher(parsed.selector);
  return {
    matches: resources.filter((_, i) => matches(views[i] as (typeof views)[number])).map(({ name }) => name),
    warnings: selectorWarnings(parsed.selector, views).map(({ clause, at, nearest, count }) => ({ clause, at, nearest, count })),
  };
}
