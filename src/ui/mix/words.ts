import { type Mix, type MixWarning, mostWanted } from "@/core/mix";
import type { FleetDraft } from "@/core/plan";

/** A mix in a few words; of none that all is at full price. */
export function mixWords(mix: Mix | undefined): string {
  if (!mix) return "all at full price";
  const most = mostWanted(mix.wanted);
  return `${mix.firm} of ${most} firm, the rest from ${mix.pools.length === 1 ? "one pool" : `${mix.pools.length} pools`}`;
}

/** A mix with all that it says: whatever of it is changed can be read. */
export function mixSettingsWords(mix: Mix | undefined): string {
  if (!mix) return mixWords(mix);
  const { pools, wanted, firm: _, ...settings } = mix;
  const places = pools.map(({ name, ...own }) => [name, ...saidOf(own)].join(" "));
  const steps = typeof wanted === "number" ? [] : wanted.map(({ from, to, units }) => `${units} from hour ${from} to ${to}`);
  return [mixWords(mix), ...saidOf(settings), ...steps, ...places].join(", ");
}

/** Settings by their names, those that are not set left out. */
function saidOf(settings: Readonly<Record<string, unknown>>): string[] {
  return Object.entries(settings).flatMap(([name, value]) =>
    value === null || value === undefined ? [] : [`${name} ${typeof value === "object" ? JSON.stringify(value) : String(value)}`],
  );
}

/** What is done with a member that is called unhealthy. */
export function unhealthyWords(unhealthy: FleetDraft["unhealthy"]): string {
  switch (unhealthy) {
    case "tell":
      return "are told of";
    case "restart":
      return "are to be restarted, which no provider here can: they are told of";
    case "replace":
    case undefined:
      return "are replaced";
  }
}

/** A warning as a sentence with its numbers. */
export function warningWords(warning: MixWarning): string {
  switch (warning.code) {
    case "kept disks wait":
      return "A kept disk waits for its own pool: while that has nothing, its machine is missing and the disk goes on costing. Dropping refills anywhere, and sets up anew.";
    case "one way":
      return `There is no way back: each of the ${warning.units} spot units that is taken and replaced at full price stays there for good. In the end an hour costs ${warning.perHourThen.toFixed(2)}, ${warning.perHour.toFixed(2)} now.`;
    case "no refill":
      return "What is evicted is tried for once, at once, and never again.";
    case "one pool":
      return `All spot comes from ${warning.pool}: when that is taken, all of it is gone in the same minute.`;
    case "firm below floor":
      return `${warning.firm} firm are below the floor of ${warning.floor}: the rest of the floor may be evicted.`;
    case "over its cap":
      return `${warning.pool} costs ${warning.price} now, above its cap of ${warning.cap}: nothing of it can be had.`;
    case "hours below firm":
      return `Hours want as few as ${warning.least}, below the ${warning.firm} firm: then only as many firm ones are kept.`;
    case "over what was seen":
      return `${warning.machines} machines of ${warning.pool} are more than the ${warning.seen} that ever ran there at once: that many may not be to be had.`;
    case "large first":
      return `One machine of ${warning.pool} is ${warning.units} units: large sizes are the first to go, and leave a large gap.`;
  }
}
