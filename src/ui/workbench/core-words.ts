import { amountOf, formatCents, microsOf } from "@/core/pricing";
import type { Line } from "@/core/projection";
import { HOUR_S } from "@/core/time";

/** What one more core of a database service costs an hour, with its licence: paid per core, so fewer hours and cores both save. */
export function coreWords(projected: readonly Line[], currency: string): string {
  const service = projected.find(({ kind, card }) => kind === "service" && card.licencePerCore > 0n);
  if (!service) return "";
  const { card } = service;
  const money = (rate: Parameters<typeof amountOf>[1]) => formatCents(microsOf(amountOf(HOUR_S, rate)));
  const whole = card.licenceCoresMin > 0 ? `, for at least ${card.licenceCoresMin} cores while it runs` : "";
  return `A core costs ${money(card.perLevel)} ${currency} an hour and ${money(card.licencePerCore)} for its licence${whole}.`;
}
