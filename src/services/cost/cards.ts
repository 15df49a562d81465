import type { CapabilitiesByAccount } from "@/core/plan";
import { type CardsOver, cardsOver, type PriceHistory } from "@/core/pricing";
import { cache } from "@/store";

/** Rate cards over time; kept as long as neither a price nor a provider's rules change. */
export function cardsOf({ history }: Readonly<{ history: PriceHistory }>, capabilities: CapabilitiesByAccount): CardsOver {
  const rules = JSON.stringify([...capabilities]);
  const kept = cache<PriceHistory, { rules: string; cards: CardsOver }>("cards");
  const known = kept.get(history);
  if (known?.rules === rules) return known.cards;
  const cards = cardsOver(history, capabilities);
  kept.set(history, { rules, cards });
  return cards;
}
