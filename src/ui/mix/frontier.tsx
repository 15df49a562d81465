"use client";
import { useState } from "react";
import { chosenPoint, type FrontierPoint, type Mix, type MixChoice, type Order, onFrontier } from "@/core/mix";
import { Button } from "../kit/button";
import { WordNumber } from "../kit/word-number";
import { gathered } from "./gathered";
import type { Frontier as Points } from "./use-mix";

export type FrontierProps = Readonly<{
  frontier: Points | null;
  mix: Mix;
  most: number;
  currency: string;
  onAsk: () => void;
  onCancel: () => void;
  onTake: (choice: MixChoice) => void;
  onFloor: (floor: number) => void;
}>;

const WIDTH = 460;
const HEIGHT = 180;
/** Half of what is pressed for a point, and a little. */
const APART = 14;

/** What firm units and pools cost, against what is missing with them; a point is pressed to take it. */
export function Frontier({ frontier, mix, most, currency, onAsk, onCancel, onTake, onFloor }: FrontierProps) {
  const [percent, setPercent] = useState(99);
  const points = frontier?.points ?? [];
  const isDone = frontier !== null && points.length === frontier.count;
  const on = onFrontier(points);
  const onIt = new Set(points.filter((_, i) => on[i]));
  const isOnFrontier = (point: FrontierPoint) => onIt.has(point);
  const isNow = (point: FrontierPoint) => isThatOf(mix, point);
  const chosen = isDone ? chosenPoint(points, percent / 100) : null;
  const [dear, lacking] = [
    Math.max(1e-9, ...points.map(({ cost }) => cost)),
    Math.max(1, ...points.map(({ missingUnitHours }) => missingUnitHours)),
  ];
  const least = Math.min(...points.map(({ cost }) => cost));
  const x = ({ cost }: FrontierPoint) => 12 + ((cost - least) / Math.max(1e-9, dear - least)) * (WIDTH - 24);
  const y = ({ missingUnitHours }: FrontierPoint) => HEIGHT - 10 - (missingUnitHours / lacking) * (HEIGHT - 20);
  // Who is to be seen: what is chosen, what the mix is, what nothing beats, and then the cheaper.
  const rank = (point: FrontierPoint) => (point === chosen ? 0 : isNow(point) ? 1 : isOnFrontier(point) ? 2 : 3);
  const inOrder = [...points].sort((a, b) => rank(a) - rank(b) || a.cost - b.cost);
  const shown = gathered(inOrder, { x, y, apart: APART });
  const says = ({ cost, missingUnitHours }: FrontierPoint) =>
    `${cost.toFixed(2)} ${currency} a week, ${missingUnitHours.toFixed(1)} unit-hours missing`;
  // What lies under a point is within reach once that is taken.
  const here = shown.find(({ point, others }) => isNow(point) || others.some(isNow));
  const alike = here ? [here.point, ...here.others].filter((point) => !isNow(point)) : [];
  return (
    <div className="flex flex-col gap-1">
      <p className="flex flex-wrap items-center gap-x-1.5 leading-7">
        <span>Cheapest with</span>
        <WordNumber label="Per cent of the time" value={percent} max={100} onNumber={setPercent} />
        <span>% of the time at least</span>
        <WordNumber label="Floor" value={mix.floor ?? 0} max={most} onNumber={onFloor} />
        <span>units:</span>
        {frontier === null ? (
          <Button onClick={onAsk}>Look for it</Button>
        ) : !isDone ? (
          <>
            <span role="status" className="text-soft">
              {points.length} of {frontier.count} mixes tried
            </span>
            <Button look="quiet" onClick={onCancel}>
              Cancel
            </Button>
          </>
        ) : chosen ? (
          <Button onClick={() => onTake(chosen)}>Take {words(chosen)}</Button>
        ) : (
          <span className="text-soft">none of them is there so often</span>
        )}
      </p>
      {points.length > 0 && (
        <figure aria-label={`Cost a week against missing unit-hours a week, ${currency}`} className="max-w-[560px]">
          <figcaption className="text-[12px] text-soft">
            {currency} a week from {least.toFixed(0)} to {dear.toFixed(0)}, left to right; missing unit-hours a week up to{" "}
            {lacking.toFixed(0)}, upwards; filled: nothing is cheaper and lacks less
          </figcaption>
          <div className="relative border-lines border-b border-l" style={{ width: WIDTH, maxWidth: "100%", height: HEIGHT }}>
            {shown.map(({ point, x: left, y: top, others }) => {
              const isOn = isOnFrontier(point);
              return (
                <button
                  key={`${point.firm} ${point.pools.join()} ${point.order}`}
                  type="button"
                  aria-label={`Take ${words(point)}: ${says(point)}`}
                  title={`${words(point)}: ${says(point)}, ${(100 * point.atLeastFloor).toFixed(1)} % at least the floor${others.length > 0 ? `; ${others.length} more come to about the same` : ""}`}
                  className={`-translate-x-1/2 -translate-y-1/2 absolute flex h-6 w-6 items-center justify-center ${isOn ? "z-10" : ""}`}
                  style={{ left: `${(100 * left) / WIDTH}%`, top }}
                  onClick={() => onTake(point)}
                >
                  <span
                    className={`block h-2.5 w-2.5 rounded-full border ${isOn ? "border-saved bg-saved" : "border-soft"} ${isNow(point) || point === chosen ? "ring-2 ring-ink" : ""}`}
                  />
                </button>
              );
            })}
          </div>
        </figure>
      )}
      {isDone && alike.length > 0 && (
        <p className="flex flex-wrap gap-x-3 text-[13px]">
          <span className="text-soft">About the same:</span>
          {alike.map((point) => (
            <button
              key={`${point.firm} ${point.pools.join()} ${point.order}`}
              type="button"
              aria-label={`Take ${words(point)}: ${says(point)}`}
              title={says(point)}
              className="text-attention underline-offset-2 hover:underline"
              onClick={() => onTake(point)}
            >
              {words(point)}
            </button>
          ))}
        </p>
      )}
    </div>
  );
}

/** Whether a mix is as a choice says; of one pool every order is the same. */
function isThatOf(mix: Mix, { firm, pools, order }: MixChoice): boolean {
  if (firm !== mix.firm || pools.join() !== mix.pools.map(({ name }) => name).join()) return false;
  return pools.length < 2 || order === mix.order;
}

function words({ firm, pools, order }: MixChoice): string {
  if (pools.length === 0) return `all ${firm} firm`;
  if (pools.length === 1) return `${firm} firm, spot from ${pools[0]}`;
  return `${firm} firm, spot from ${pools.length} pools, ${order ? ORDER_WORDS[order] : ""}`;
}

const ORDER_WORDS: Readonly<Record<Order, string>> = {
  even: "evenly",
  cheapest: "the cheapest first",
  steadiest: "the steadiest first",
  blend: "more from cheap and steady ones",
};
