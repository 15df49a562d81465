import { LOCAL } from "@/core/hours";
import { projectedInventorySchema, projectSpan, type SpanFleet, spanPricesSchema } from "@/core/levers";
import { planFileSchema } from "@/core/plan";
import { formatMicros, microsOf } from "@/core/pricing";
import { checkZone, needsZone, readFile } from "./files";
import { readFlags, spanFlags } from "./flags";
import { noAnswer, wrongUse } from "./problem";

/** `project --plan F --inventory F --prices F --from T --to T [--zone Z]` */
export function project(args: readonly string[]): unknown {
  const flags = readFlags(args, {
    plan: "required",
    inventory: "required",
    prices: "required",
    from: "required",
    to: "required",
    zone: "optional",
  });
  const span = spanFlags(flags);
  const plan = readFile(flags.plan, planFileSchema);
  const local = plan.schedules.find(({ zone }) => zone === LOCAL);
  if (local && flags.zone === undefined) wrongUse(needsZone(local.name));
  checkZone(flags.zone);
  const { resources } = readFile(flags.inventory, projectedInventorySchema);
  const { prices } = readFile(flags.prices, spanPricesSchema);
  const result = projectSpan({ plan, resources, prices, span, zone: flags.zone });
  if (!result.ok) {
    return noAnswer(
      ...result.unpriced.map(
        (i) => `${flags.inventory}: no price in ${flags.prices} fits resource ${i + 1}, "${resources[i]?.name}"`,
      ),
    );
  }
  return { fleets: result.fleets.map((fleet) => ({ name: fleet.name, ...moneyOf(fleet) })), all: moneyOf(result.all) };
}

function moneyOf({ resources, alwaysOn, projected, levers }: Omit<SpanFleet, "name">) {
  const text = (amount: Parameters<typeof microsOf>[0]) => formatMicros(microsOf(amount));
  return {
    resources,
    alwaysOn: text(alwaysOn),
    projected: text(projected),
    levers: levers.map(({ lever, saves }) => ({ lever, saves: text(saves) })),
  };
}
