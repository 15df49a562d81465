"use client";
import { type RefObject, useEffect, useRef, useState } from "react";

export type Trace = Readonly<{
  name: string;
  /** Wall-clock times, `YYYY-MM-DD HH:MM`. */
  x: readonly string[];
  y: readonly number[];
  /** The name of a colour token, such as `lit`. */
  colour: string;
  isDashed?: boolean;
}>;

export type ChartProps = {
  label: string;
  traces: readonly Trace[];
  unit: string;
  /** Where now is marked; null for a chart of days that are over. */
  now: string | null;
  height?: number;
  /** Milliseconds between two ticks of time. */
  tickMs?: number;
};

/** A chart of levels over time in steps. The library is fetched when the first chart comes into sight, and never before. */
export function Chart({ label, traces, unit, now, height = 150, tickMs = DAY_MS }: ChartProps) {
  const host = useRef<HTMLDivElement>(null);
  const [isDrawn, setIsDrawn] = useState(false);
  const isInSight = useInSight(host);
  useEffect(() => {
    const element = host.current;
    if (!element || !isInSight) return;
    let isGone = false;
    const draw = async () => {
      const { default: plotly } = await import("plotly.js-dist-min");
      if (isGone) return;
      await plotly.react(element, tracesOf(traces), layoutOf({ unit, now, height, tickMs }), {
        displayModeBar: false,
        responsive: true,
      });
      if (!isGone) setIsDrawn(true);
    };
    void draw();
    // The theme's colours are read when drawing, so a change of theme draws again.
    const watch = new MutationObserver(() => void draw());
    watch.observe(document.documentElement, { attributeFilter: ["data-theme"] });
    return () => {
      isGone = true;
      watch.disconnect();
    };
  }, [isInSight, traces, unit, now, height, tickMs]);
  useEffect(() => {
    const element = host.current;
    return () => {
      if (element) void import("plotly.js-dist-min").then(({ default: plotly }) => plotly.purge(element));
    };
  }, []);
  async function save(format: "png" | "svg") {
    const element = host.current;
    if (!element) return;
    const { default: plotly } = await import("plotly.js-dist-min");
    const filename = label.toLowerCase().replace(/[^a-z0-9]+/g, "-");
    // On paper of its own colour: a picture is looked at outside of the page.
    const figure = { data: tracesOf(traces), layout: { ...(layoutOf({ unit, now, height, tickMs }) as object), ...paper() } };
    await plotly.downloadImage(figure, { format, filename, width: 1200, height: 480 });
  }
  return (
    <figure aria-label={label} style={{ minHeight: height }}>
      {!isDrawn && <p className="text-soft">drawing…</p>}
      <div ref={host} aria-hidden />
      <figcaption className="flex items-center justify-end gap-3 text-[12px]">
        {traces.length > 1 &&
          traces.map(({ name, colour, isDashed }) => (
            <span key={name} className="flex items-center gap-1.5">
              <span
                aria-hidden
                className="w-5 border-t-2"
                style={{ borderColor: `var(--${colour})`, borderTopStyle: isDashed ? "dotted" : "solid" }}
              />
              {name}
            </span>
          ))}
        {(["png", "svg"] as const).map((format) => (
          <button
            key={format}
            type="button"
            className="text-attention underline-offset-2 hover:underline"
            aria-label={`save ${format.toUpperCase()}: ${label}`}
            onClick={() => void save(format)}
          >
            save {format.toUpperCase()}
          </button>
        ))}
      </figcaption>
    </figure>
  );
}

/** True once something has come into sight, or near it: what nobody scrolls to need not be drawn. */
function useInSight(host: RefObject<HTMLElement | null>): boolean {
  const [isInSight, setIsInSight] = useState(false);
  useEffect(() => {
    const element = host.current;
    if (!element) return;
    const watch = new IntersectionObserver(([entry]) => entry?.isIntersecting && setIsInSight(true), { rootMargin: "100px" });
    watch.observe(element);
    return () => watch.disconnect();
  }, [host]);
  return isInSight;
}

const DAY_MS = 86_400_000;

function paper(): object {
  return { paper_bgcolor: token("paper"), plot_bgcolor: token("paper"), showlegend: true, height: 480, width: 1200 };
}

function token(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim();
}

function tracesOf(traces: readonly Trace[]): unknown[] {
  return traces.map(({ name, x, y, colour, isDashed }) => ({
    name,
    x,
    y,
    type: "scatter",
    mode: "lines",
    line: { shape: "hv", width: 1.5, color: token(colour), dash: isDashed ? "dot" : "solid" },
    fill: "tozeroy",
    fillcolor: `${token(colour)}${isDashed ? "33" : "66"}`,
    hovertemplate: `%{x|%a %e %b %H:%M}: %{y:.1f} ${name}<extra></extra>`,
  }));
}

type Layout = Readonly<{ unit: string; now: string | null; height: number; tickMs: number }>;

function layoutOf({ unit, now, height, tickMs }: Layout): unknown {
  const font = { family: getComputedStyle(document.body).fontFamily, size: 12, color: token("soft") };
  const axis = { gridcolor: token("lines"), zeroline: false, fixedrange: true };
  return {
    height,
    margin: { l: 36, r: 8, t: 6, b: 36 },
    paper_bgcolor: "transparent",
    plot_bgcolor: "transparent",
    font,
    showlegend: false,
    xaxis: { ...axis, type: "date", tickformat: "%a %e", dtick: tickMs, ticks: "outside", ticklen: 5, tickcolor: "transparent" },
    yaxis: { ...axis, rangemode: "tozero", title: { text: unit, standoff: 4 } },
    shapes:
      now === null
        ? []
        : [{ type: "line", x0: now, x1: now, yref: "paper", y0: 0, y1: 1, line: { color: token("attention"), width: 2 } }],
  };
}
