import { DAY_MINUTES } from "../../time/instant";
import { runsPastMidnight, type Span } from "../span";

/** A rule as the open notation understands it. `isAdditional`: after a comma. */
export type OpenRule = Readonly<{
  names: (day: number) => boolean;
  isEveryDay: boolean;
  spans: readonly Span[] | "off";
  isAdditional: boolean;
}>;

/**
 * The levels of a date's 1440 minutes as readers of the open notation have them. Two things differ
 * from rows: hours past midnight follow the rule that names the day before even where another rule
 * has overridden it there, and a later rule that names the day itself cuts them off.
 */
export function openDay(rules: readonly OpenRule[], day: number): Int32Array {
  let speaking: { spans: readonly Span[] | "off"; isTail: boolean }[] = [];
  rules.forEach((rule, i) => {
    if (rule.names(day)) {
      const overrides = !rule.isEveryDay || (i > 0 && rules[i - 1]?.isEveryDay);
      if (overrides && rule.spans !== "off" && !rule.isAdditional) speaking = [];
      speaking.push({ spans: rule.spans, isTail: false });
    }
    if (rule.spans !== "off" && runsPastMidnight(rule.spans) && rule.names(day - 1))
      speaking.push({ spans: rule.spans, isTail: true });
  });
  const levels = new Int32Array(DAY_MINUTES);
  for (const { spans, isTail } of speaking) {
    if (spans === "off") levels.fill(0);
    else if (isTail) for (const { end, level } of spans) levels.fill(level, 0, Math.max(0, end - DAY_MINUTES));
    else for (const { start, end, level } of spans) levels.fill(level, start, Math.min(end, DAY_MINUTES));
  }
  return levels;
}
