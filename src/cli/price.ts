import { formatMicros, runCost, tryParseDecimal } from "@/core/pricing";
import { readFlags, spanFlags, wholeFlag } from "./flags";
import { wrongUse } from "./problem";

/** `price run --rate R --granularity S --minimum S --from T --to T [--level N]` */
export function priceRun(args: readonly string[]): unknown {
  const flags = readFlags(args, {
    rate: "required",
    granularity: "required",
    minimum: "required",
    from: "required",
    to: "required",
    level: "optional",
  });
  const rate = tryParseDecimal(flags.rate) ?? wrongUse(`--rate "${flags.rate}": expected a decimal from 0, such as 0.42`);
  const billing = {
    granularityS: wholeFlag("granularity", flags.granularity, 1),
    minimumS: wholeFlag("minimum", flags.minimum, 0),
  };
  const level = flags.level === undefined ? 1 : wholeFlag("level", flags.level, 0);
  const { from, to } = spanFlags(flags);
  const { billedSeconds, cost } = runCost(to - from, rate, { billing, level });
  return { billedSeconds, cost: formatMicros(cost) };
}
