import type { Level } from "../hours";
import { isRunningState } from "../plan";
import type { LifeSpan } from "../spend";
import type { Instant } from "../time";

/** The life of a machine that stands for so many units of a group. */
export type UnitsLife = Readonly<{ life: readonly LifeSpan[]; units: number }>;

/** The life of a group with its members: at each instant its own level and the units of those that run, over `[from, to)`. */
export function withUnits(
  own: readonly LifeSpan[],
  members: readonly UnitsLife[],
  { from, to }: Readonly<{ from: Instant; to: Instant }>,
): LifeSpan[] {
  const lives = [own, ...members.map(({ life }) => life)];
  const edges = [
    ...new Set([
      from,
      to,
      ...lives.flatMap((life) => life.flatMap((one) => [one.from, one.to])).filter((t) => t > from && t < to),
    ]),
  ].sort((a, b) => a - b);
  const spanAt = (life: readonly LifeSpan[], t: Instant) => life.find((one) => one.from <= t && t < one.to);
  const spans: LifeSpan[] = [];
  for (let i = 0; i + 1 < edges.length; i++) {
    const [start, end] = [edges[i] as Instant, edges[i + 1] as Instant];
    const base = spanAt(own, start);
    if (!base) continue;
    let level: number = isRunningState(base.state) ? base.level : 0;
    for (const { life, units } of members) {
      const span = spanAt(life, start);
      if (span && isRunningState(span.state)) level += units;
    }
    const state = level > 0 ? "running" : base.state;
    const last = spans.at(-1);
    if (last && last.to === start && last.level === level && last.state === state) spans[spans.length - 1] = { ...last, to: end };
    else spans.push({ ...base, from: start, to: end, state, level: level as Level });
  }
  return spans;
}
