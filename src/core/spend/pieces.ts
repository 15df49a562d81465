import type { ResourceState } from "../plan";
import { isRunningState } from "../plan";
import { type Amount, type AmountPerSecond, amountOf, billedSeconds, licencePerSecond, type RateCard } from "../pricing";
import type { Instant } from "../time";
import { billedRuns, type CostItem, cardAt, type LedgerInput } from "./ledger";

/** One term of what something cost: seconds at a rate, or what rounds a run up. */
export type CostPiece = Readonly<{
  item: CostItem;
  from: Instant;
  to: Instant;
  seconds: number;
  perSecond: AmountPerSecond;
  amount: Amount;
  /** The state it is charged for; a run may go on through several. */
  state: ResourceState | "run";
  level: number;
  isRounding: boolean;
}>;

/**
 * What a cost is made of, term by term in order of time: together they are `costOver` of the same,
 * item by item, exactly.
 */
export function costPieces({ life, cards, from, to, knownTo }: Omit<LedgerInput, "stepS">): readonly CostPiece[] {
  const pieces: CostPiece[] = [];
  const over = (item: CostItem, span: Readonly<{ from: Instant; to: Instant }>, of: Charged) => {
    cards.forEach(({ from: since, card }, i) => {
      const start = Math.max(from, span.from, i === 0 ? Number.NEGATIVE_INFINITY : since);
      const end = Math.min(to, span.to, cards[i + 1]?.from ?? Number.POSITIVE_INFINITY);
      const perSecond = of.rateOf(card);
      if (start >= end || perSecond === 0n) return;
      const seconds = end - start;
      const { state, level } = of;
      pieces.push({
        item,
        from: start,
        to: end,
        seconds,
        perSecond,
        amount: amountOf(seconds, perSecond),
        state,
        level,
        isRounding: false,
      });
    });
  };
  for (const span of life) {
    const { state, level } = span;
    if (state === "gone" || span.to <= from || span.from >= to) continue;
    const isOn = isRunningState(state);
    over("disk", span, { state, level, rateOf: (card) => card.always });
    over("address", span, { state, level, rateOf: (card) => (isOn ? card.addressesOn : card.addressesOff) });
    if (state === "hibernated") over("image", span, { state, level, rateOf: (card) => card.image });
  }
  for (const run of billedRuns(life, cards)) {
    if (run.from >= to || run.to <= from) continue;
    const compute = (card: RateCard) => (card.perLevel * BigInt(run.level)) as AmountPerSecond;
    const licence = (card: RateCard) => licencePerSecond(card, run.level);
    over("compute", run, { state: "run", level: run.level, rateOf: compute });
    over("licence", run, { state: "run", level: run.level, rateOf: licence });
    const last = run.to - 1;
    const card = cardAt(cards, last);
    if (run.to >= knownTo || last < from || last >= to || !card) continue;
    const seconds = billedSeconds(run.to - run.from, card.billing) - (run.to - run.from);
    for (const [item, perSecond] of [
      ["compute", compute(card)],
      ["licence", licence(card)],
    ] as const) {
      if (seconds === 0 || perSecond === 0n) continue;
      const amount = amountOf(seconds, perSecond);
      pieces.push({
        item,
        from: run.to,
        to: run.to,
        seconds,
        perSecond,
        amount,
        state: "run",
        level: run.level,
        isRounding: true,
      });
    }
  }
  return pieces.sort((a, b) => a.from - b.from || a.to - b.to);
}

type Charged = Readonly<{ state: CostPiece["state"]; level: number; rateOf: (card: RateCard) => AmountPerSecond }>;
