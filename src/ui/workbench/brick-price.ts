import { type HoursLevel, type Level, OFF, sizedLevel } from "@/core/hours";
import { type Amount, addAmounts, amountOf, computePerSecond, NO_AMOUNT } from "@/core/pricing";
import type { Line } from "@/core/projection";

export type Brick = Readonly<{ said: HoursLevel; minutes: number; isPooled: boolean }>;

/** What a brick of the week wall costs: all lines at the level that it says for so long. A pool's level is how many of them are on. */
export function brickPrice(lines: readonly Line[], { said, minutes, isPooled }: Brick): Amount {
  const parts = lines.map(({ card, kind, ownSize }, i) => {
    const level = isPooled ? (sizedLevel(said, lines.length as Level) > i ? ownSize : OFF) : sizedLevel(said, ownSize);
    const own = kind === "machine" && level > 1 ? ownSize : level;
    return amountOf(60 * minutes, computePerSecond(card, own));
  });
  return parts.reduce(addAmounts, NO_AMOUNT);
}
