"use client";
import { useRef, useState } from "react";
import type { MixOffer } from "@/services/mix";
import { shareUnder } from "./mix-of";

export type PricePictureProps = Readonly<{
  offer: MixOffer;
  cap: number | null;
  currency: string;
  /** Null where the pool is not taken: its cap is nobody's. */
  onCap: ((cap: number | null) => void) | null;
}>;

const [WIDTH, HEIGHT] = [640, 120];
/** So far above the dearest hour a cap may be drawn. */
const ABOVE = 1.25;
const STEPS = 200;

/** The price of every hour of the last weeks, with the cap as a line to drag; beside it the share of hours under it. */
export function PricePicture({ offer, cap, currency, onCap }: PricePictureProps) {
  const svg = useRef<SVGSVGElement>(null);
  /** The cap while it is dragged; the draft gets it when the drag ends. */
  const [dragged, setDragged] = useState<number | null>(null);
  const { prices, name } = offer;
  const top = Math.max(...prices, cap ?? 0, Number.MIN_VALUE) * ABOVE;
  const shown = dragged ?? cap;
  const yOf = (price: number) => HEIGHT - (price / top) * HEIGHT;
  const path = prices.map(
    (price, i) => `${i === 0 ? "M" : "L"}${((i / Math.max(1, prices.length - 1)) * WIDTH).toFixed(1)},${yOf(price).toFixed(1)}`,
  );
  const rounded = (value: number) => Math.max(top / STEPS, Math.round((value / top) * STEPS) * (top / STEPS));
  const capAt = (clientY: number): number => {
    const box = svg.current?.getBoundingClientRect();
    if (!box || box.height === 0) return shown ?? top;
    return rounded(Math.min(top, Math.max(0, (1 - (clientY - box.top) / box.height) * top)));
  };
  const exact = (value: number) => Number(value.toFixed(4));
  const move = (by: number) => onCap?.(exact(rounded((shown ?? Math.max(...prices)) + by * (top / STEPS))));
  return (
    <figure className="my-1 flex flex-wrap items-center gap-3" data-testid="price-picture">
      <svg
        ref={svg}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="h-[120px] w-[640px] max-w-full touch-none border border-lines"
        preserveAspectRatio="none"
        role="img"
        aria-label={`${name}, ${Math.round(prices.length / 24)} days: between ${Math.min(...prices)} and ${Math.max(...prices)} ${currency} a machine-hour`}
        onPointerDown={(event) => {
          if (!onCap) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          setDragged(capAt(event.clientY));
        }}
        onPointerMove={(event) => dragged !== null && setDragged(capAt(event.clientY))}
        onPointerUp={(event) => {
          if (dragged === null) return;
          onCap?.(exact(capAt(event.clientY)));
          setDragged(null);
        }}
        onPointerCancel={() => setDragged(null)}
      >
        {shown !== null && <rect x={0} y={0} width={WIDTH} height={yOf(shown)} fill="var(--loss)" opacity={0.12} />}
        <path d={path.join("")} fill="none" stroke="var(--ink)" strokeWidth={1.5} vectorEffect="non-scaling-stroke" />
        {shown !== null && (
          <path
            d={`M0,${yOf(shown)}H${WIDTH}`}
            stroke="var(--attention)"
            strokeWidth={2}
            strokeDasharray="6 4"
            vectorEffect="non-scaling-stroke"
          />
        )}
      </svg>
      <figcaption className="max-w-[260px] text-[13px]">
        <b>{name}</b>
        {shown === null ? (
          <span className="block text-soft">No cap: whatever it costs.</span>
        ) : (
          <span className="block" data-testid="under-cap">
            Capped at {exact(shown)}: {Math.round(100 * shareUnder(offer, shown))} % of past hours were under it.
          </span>
        )}
        {onCap ? (
          <span className="mt-1 flex items-center gap-2">
            <input
              type="range"
              aria-label={`Cap of ${name}, as a line`}
              aria-valuetext={shown === null ? "no cap" : `${exact(shown)} ${currency} a machine-hour`}
              min={1}
              max={STEPS}
              value={Math.round(((shown ?? top) / top) * STEPS)}
              onChange={({ target }) => move(Number(target.value) - Math.round(((shown ?? top) / top) * STEPS))}
            />
            {cap !== null && (
              <button type="button" className="underline" onClick={() => onCap(null)}>
                no cap
              </button>
            )}
          </span>
        ) : (
          <span className="block text-soft">Take it as a pool to cap it.</span>
        )}
      </figcaption>
    </figure>
  );
}
