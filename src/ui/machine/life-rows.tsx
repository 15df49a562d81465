import type { ReactNode } from "react";
import { DAY_S, type Instant } from "@/core/time";
import type { LifeMark, MachineDays } from "@/services/cost";
import { dateTime, dayTimePlace } from "../kit/when";
import { LifeRow, WIDTH } from "./life-row";

/** Heights in pixels. */
export const STRIP = 16;
export const COST = 34;

/** How a state is drawn, and what it is called. */
export const STATES = {
  on: { fill: "var(--lit)", y: 0, height: STRIP, words: "on" },
  moving: { fill: "var(--lit-deep)", y: 3, height: STRIP - 6, words: "starting or stopping" },
  hibernated: { fill: "var(--doze)", y: 5, height: 6, words: "hibernated" },
  off: { fill: "var(--shade)", y: 7, height: 2, words: "off" },
  halted: { fill: "var(--loss)", y: 0, height: STRIP, words: "halted" },
} as const;

const MARKS: Readonly<Record<LifeMark["kind"], Readonly<{ sign: string; look: string }>>> = {
  warned: { sign: "◐", look: "text-attention" },
  tripped: { sign: "●", look: "text-saved" },
  "left on": { sign: "✋", look: "text-attention" },
  hold: { sign: "▣", look: "text-ink" },
  "start kept": { sign: "▲", look: "text-ink" },
  round: { sign: "│", look: "text-soft" },
  person: { sign: "┃", look: "text-ink" },
};

export type Span = Readonly<{ from: Instant; to: Instant }>;

/** Where an instant lies across the rows; `WIDTH` is all of it. */
export type LifeAxis = Readonly<{ view: Span; x: (t: Instant) => number }>;

export function axisOf(view: Span): LifeAxis {
  return { view, x: (t) => ((t - view.from) / Math.max(1, view.to - view.from)) * WIDTH };
}

function inView<S extends Span>(spans: readonly S[], { view }: LifeAxis): readonly S[] {
  return spans.filter((span) => span.to > view.from && span.from < view.to);
}

type RowProps = Readonly<{ days: MachineDays; axis: LifeAxis }>;

/** What it was. */
export function StateRow({ days, axis }: RowProps) {
  const { x } = axis;
  return (
    <LifeRow title="what it was" height={STRIP}>
      {inView(days.spans, axis).map(({ from, to, state }) => {
        const { fill, y, height } = STATES[lookOf(state)];
        return <rect key={from} x={x(from)} width={Math.max(0.6, x(to) - x(from))} y={y} height={height} fill={fill} />;
      })}
    </LifeRow>
  );
}

/** What was due. */
export function DueRow({ days, axis }: RowProps) {
  const { x } = axis;
  return (
    <LifeRow title="what was due" height={10}>
      {inView(days.due, axis).map(({ from, to, level }) =>
        level === null ? null : (
          <rect
            key={from}
            x={x(from)}
            width={Math.max(0.6, x(to) - x(from))}
            y={level > 0 ? 2 : 4}
            height={level > 0 ? 6 : 2}
            fill={level > 0 ? "var(--attention)" : "var(--shade)"}
            opacity={0.7}
          />
        ),
      )}
    </LifeRow>
  );
}

type MarkRowProps = Readonly<{
  marks: readonly LifeMark[];
  axis: LifeAxis;
  zone: string;
  until: Instant;
  onInstant: (t: Instant) => void;
}>;

/** What happened, each to be pressed. */
export function MarkRow({ marks, axis: { x }, zone, until, onInstant }: MarkRowProps) {
  return (
    <div className="relative" style={{ height: 18 }}>
      {marks.map(({ at: t, kind, words }, i) => (
        <button
          // Several things may happen in one second.
          // biome-ignore lint/suspicious/noArrayIndexKey: see above
          key={`${t} ${kind} ${i}`}
          type="button"
          title={`${dayTimePlace(t, zone, until)}: ${kind}, ${words}`}
          aria-label={`${kind} at ${dayTimePlace(t, zone, until)}: ${words}`}
          className={`-ml-[6px] absolute w-[12px] text-center text-[11px] leading-[18px] ${MARKS[kind].look}`}
          style={{ left: `${x(t) / 10}%` }}
          onClick={() => onInstant(t)}
        >
          {MARKS[kind].sign}
        </button>
      ))}
    </div>
  );
}

/** What each day cost; the dearest is as high as the row. */
export function CostRow({ days, axis: { x }, dearest }: RowProps & Readonly<{ dearest: number }>) {
  return (
    <LifeRow title="what each day cost" height={COST} isLined>
      {days.days.map(({ day, cents }) => {
        const begin = Date.parse(`${day}T00:00:00Z`) / 1000;
        const height = (cents / dearest) * (COST - 3);
        return (
          <rect
            key={day}
            x={x(begin) + 1}
            width={Math.max(1, x(begin + DAY_S) - x(begin) - 2)}
            y={COST - height}
            height={height}
            fill="var(--lit)"
          >
            <title>{`${day}: ${(cents / 100).toFixed(2)}`}</title>
          </rect>
        );
      })}
    </LifeRow>
  );
}

type UprightProps = Readonly<{ at: Instant; axis: LifeAxis; className: string; children?: ReactNode }>;

/** A line through all rows. */
export function Upright({ at, axis: { x }, className, children }: UprightProps) {
  return (
    <div aria-hidden className={`pointer-events-none absolute inset-y-0 ${className}`} style={{ left: `${x(at) / 10}%` }}>
      {children}
    </div>
  );
}

/** At most seven instants under the rows. */
export function TickLabels({
  ticks,
  axis: { x, view },
  zone,
}: Readonly<{ ticks: readonly Instant[]; axis: LifeAxis; zone: string }>) {
  return (
    <div className="relative h-4 text-[12px] text-soft">
      {ticks
        .filter((t, i) => i % Math.ceil(ticks.length / 7) === 0 && x(t) < WIDTH * 0.93)
        .map((t) => (
          <span key={t} className="absolute whitespace-nowrap" style={{ left: `${x(t) / 10}%` }}>
            {view.to - view.from > 3 * DAY_S ? dateTime(t, zone, t).slice(0, -6) : dateTime(t, zone, t)}
          </span>
        ))}
    </div>
  );
}

function lookOf(state: MachineDays["spans"][number]["state"]): keyof typeof STATES {
  if (state === "running") return "on";
  if (state === "starting" || state === "stopping") return "moving";
  return state === "hibernated" || state === "halted" ? state : "off";
}
