import { type Fan as Counts, fanLine, type Mix, mostWanted } from "@/core/mix";
import { HOUR_S, type Instant } from "@/core/time";
import { dateTime, placeOf } from "../kit/when";

export type FanProps = Readonly<{ fan: Counts; mix: Mix; from: Instant; zone: string }>;

const WIDTH = 1000;
const HEIGHT = 170;
/** Beside the label of the beginning, and before the end, there is no room for another. */
const [LABEL_FROM, LABEL_TO] = [140, 960];
const DAY_S = 86_400;
const BANDS = [
  { low: 5, high: 95, opacity: 0.28 },
  { low: 25, high: 75, opacity: 0.5 },
] as const;

/** Capacity over the coming week as the trials had it, with what is wanted and the floor drawn over it. */
export function Fan({ fan, mix, from, zone }: FanProps) {
  const top = Math.max(1, mostWanted(mix.wanted));
  const to = from + (fan.everyMs * fan.points) / 1000;
  const x = (t: number) => ((t - from) / (to - from)) * WIDTH;
  const y = (units: number) => HEIGHT - (units / (top * 1.08)) * HEIGHT;
  const xs = Array.from({ length: fan.points }, (_, p) => x(from + (p * fan.everyMs) / 1000));
  const median = fanLine(fan, 50);
  const days = Array.from({ length: Math.floor((to - from) / DAY_S) }, (_, d) => from + (d + 1) * DAY_S);
  const step = stepOf(top);
  const ticks = Array.from({ length: Math.floor(top / step) }, (_, i) => (i + 1) * step);
  const lows = fanLine(fan, 5);
  const lowest = lows.reduce((least, units) => Math.min(least, units), top);
  return (
    <figure aria-label="Capacity over the coming week">
      <figcaption className="flex flex-wrap items-baseline justify-between gap-x-3 text-[12px] text-soft">
        <span>
          units up, {placeOf(zone)}; at any one moment 19 of 20 trials have {lowest} or more
        </span>
        <span className="flex gap-3">
          <Key look="h-2 w-4 bg-lit/60" words="half of the trials; 9 of 10" />
          <Key look="h-0.5 w-4 bg-ink" words="median" />
          <Key look="w-4 border-t-2 border-attention" words="wanted" />
          {mix.floor !== null && <Key look="w-4 border-t-2 border-dashed border-loss" words={`floor ${mix.floor}`} />}
        </span>
      </figcaption>
      <div className="relative">
        <svg
          role="img"
          aria-label={`Capacity: of ${top} units ${lowest} or more at any one moment in 95 of 100 trials`}
          viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
          preserveAspectRatio="none"
          className="h-[170px] w-full border-lines border-y"
        >
          {days.map((day) => (
            <line key={day} x1={x(day)} x2={x(day)} y1={0} y2={HEIGHT} stroke="var(--lines)" vectorEffect="non-scaling-stroke" />
          ))}
          {BANDS.map(({ low, high, opacity }) => (
            <path key={low} d={band(fanLine(fan, low), fanLine(fan, high), xs, y)} fill="var(--lit)" fillOpacity={opacity} />
          ))}
          <path d={line(median, xs, y)} fill="none" stroke="var(--ink)" strokeWidth={1.4} vectorEffect="non-scaling-stroke" />
          <path
            d={wantedLine(mix, x, y, { from, to })}
            fill="none"
            stroke="var(--attention)"
            strokeWidth={1.6}
            vectorEffect="non-scaling-stroke"
          />
          {mix.floor !== null && (
            <line
              x1={0}
              x2={WIDTH}
              y1={y(mix.floor)}
              y2={y(mix.floor)}
              stroke="var(--loss)"
              strokeDasharray="6 4"
              strokeWidth={1.6}
              vectorEffect="non-scaling-stroke"
            />
          )}
        </svg>
        {ticks.map((units) => (
          <span
            key={units}
            aria-hidden
            className="-translate-y-1/2 absolute left-0 bg-paper/80 pr-1 text-[12px] text-soft tabular-nums"
            style={{ top: `${(100 * y(units)) / HEIGHT}%` }}
          >
            {units}
          </span>
        ))}
      </div>
      <div aria-hidden className="relative h-5 text-[12px] text-soft">
        <span className="absolute left-0">{dateTime(from, zone, from)}</span>
        {days
          .filter((day) => x(day) > LABEL_FROM && x(day) < LABEL_TO)
          .map((day) => (
            <span key={day} className="-translate-x-1/2 absolute whitespace-nowrap" style={{ left: `${x(day) / 10}%` }}>
              {dateTime(day, zone, day).slice(0, -6)}
            </span>
          ))}
      </div>
    </figure>
  );
}

function Key({ look, words }: { look: string; words: string }) {
  return (
    <span className="flex items-center gap-1">
      <span aria-hidden className={`inline-block ${look}`} /> {words}
    </span>
  );
}

/** Units from one tick to the next: 1, 2 or 5 of a power of ten, and no more than five ticks. */
function stepOf(top: number): number {
  const power = 10 ** Math.max(0, Math.floor(Math.log10(top / 5)));
  return [1, 2, 5, 10].map((n) => n * power).find((step) => top / step <= 5) ?? top;
}

type Scale = (value: number) => number;

function line(units: Int32Array, xs: readonly number[], y: Scale): string {
  return xs.map((at, p) => `${p === 0 ? "M" : "H"}${at.toFixed(1)}${p === 0 ? "," : "V"}${y(units[p] ?? 0).toFixed(1)}`).join("");
}

function band(low: Int32Array, high: Int32Array, xs: readonly number[], y: Scale): string {
  const under = [...xs].reverse().map((at, i) => {
    const p = xs.length - 1 - i;
    return `L${at.toFixed(1)},${y(low[p] ?? 0).toFixed(1)}`;
  });
  return `${xs.map((at, p) => `${p === 0 ? "M" : "L"}${at.toFixed(1)},${y(high[p] ?? 0).toFixed(1)}`).join("")}${under.join("")}Z`;
}

function wantedLine(mix: Mix, x: Scale, y: Scale, { from, to }: { from: Instant; to: Instant }): string {
  if (typeof mix.wanted === "number") return `M0,${y(mix.wanted)}H${WIDTH}`;
  return mix.wanted
    .map(({ from: begin, to: end, units }, i) => {
      const [left, right] = [x(from + begin * HOUR_S), x(Math.min(to, from + end * HOUR_S))];
      return `${i === 0 ? `M${left},${y(units)}` : `L${left},${y(units)}`}H${right}`;
    })
    .join("");
}
