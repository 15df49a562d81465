import { listedAt, type Resource } from "@/core/plan";
import {
  type Amount,
  amountOf,
  type Commitment,
  type CoverRun,
  commitmentEdges,
  coveredByAny,
  coverOver,
  feePerSecond,
} from "@/core/pricing";
import { billedRuns, type Cost, noCost, stepCost } from "@/core/spend";
import { DAY_S, type Instant } from "@/core/time";
import type { Lives } from "@/store";
import { cardsOf } from "../cards";
import { type CostsInput, commitmentKey } from "./input";

type Covering = Readonly<{ input: CostsInput; lives: Lives; costs: Map<string, Map<Instant, Cost>> }>;

/** Takes what all commitments together cover off the compute of what they cover, step by step, and adds their fees. */
export function cover({ input, lives, costs }: Covering): void {
  const { from, to, stepS = DAY_S, prices } = input;
  if (prices.commitments.length === 0) return;
  const pieces = piecesOf({ input, lives, costs });
  const { covered } = coverOver(
    prices.commitments,
    pieces.map(({ run }) => run),
    { from, to },
  );
  covered.forEach((amount, i) => {
    const { id, run } = pieces[i] as Piece;
    const own = costs.get(id);
    if (!own || amount === 0n) return;
    const cost = stepCost(own, run.from, stepS);
    cost.covered = (cost.covered + amount) as Amount;
  });
  for (const commitment of prices.commitments) {
    const fees = new Map<Instant, Cost>();
    const [begins, ends] = commitmentEdges(commitment);
    const [first, last] = [Math.max(from, begins), Math.min(to, ends)];
    for (let step = Math.floor(first / stepS) * stepS; step < last; step += stepS) {
      const seconds = Math.min(step + stepS, last) - Math.max(step, first);
      fees.set(step, { ...noCost(), compute: amountOf(seconds, feePerSecond(commitment)) });
    }
    if (fees.size > 0) costs.set(commitmentKey(commitment), fees);
  }
}

/** True for what some commitment may pay for, as it is listed or was before. */
export function isCoverable({ kind, fields, earlier }: Resource, commitments: readonly Commitment[]): boolean {
  return [{ kind, fields }, ...earlier.map(({ was }) => was)].some((one) => coveredByAny(commitments, one));
}

type Piece = Readonly<{ id: string; run: CoverRun }>;

/** The runs of the bill, cut at the ends of steps and where a price or a listing changes. */
function piecesOf({ input, lives, costs }: Covering): Piece[] {
  const { resources, from, to, stepS = DAY_S, prices, capabilities } = input;
  const cardsOver = cardsOf(prices, capabilities);
  const pieces: Piece[] = [];
  for (const resource of resources) {
    if (!costs.has(resource.id) || !isCoverable(resource, prices.commitments)) continue;
    const cards = cardsOver(resource, from, to) ?? [];
    for (const run of billedRuns(lives.get(resource.id) ?? [], cards)) {
      cards.forEach(({ from: since, card }, i) => {
        const start = Math.max(from, run.from, since);
        const end = Math.min(to, run.to, cards[i + 1]?.from ?? Number.POSITIVE_INFINITY);
        for (let at = start; at < end; ) {
          const until = Math.min(end, (Math.floor(at / stepS) + 1) * stepS);
          const one = listedAt(resource, at);
          pieces.push({ id: resource.id, run: { one, from: at, to: until, level: run.level, perLevel: card.perLevel } });
          at = until;
        }
      });
    }
  }
  return pieces;
}
