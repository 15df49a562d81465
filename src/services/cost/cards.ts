import type { Capabilities } from "@/core/plan";
import { type CardsOver, cardsOver, type PriceHistory } from "@/core/pricing";
import type { Prices } from "@/store";

const kept = new WeakMap<PriceHistory, { rules: string; cards: CardsOver }>();

/** Rate cards over time; kept as long as neither a price nor a provider's rules change. */
export function cardsOf({ history }: Prices, capabilities: ReadonlyMap<string, Capabilities>): CardsOver {
  const rules = JSON.stringify([...capabilities]);
  const known = kept.get(history);
  if (known?.rules === rules) return known.cards;
  const cards = cardsOver(history, capabilities);
  kept.set(history, { rules, cards });
  return cards;
}
