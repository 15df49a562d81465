"use client";
import { useEffect, useRef, useState } from "react";

export type Trace = Readonly<{
  name: string;
  /** Wall-clock times, `YYYY-MM-DD HH:MM`. */
  x: readonly string[];
  y: readonly number[];
  /** The name of a colour token, such as `lit`. */
  colour: string;
  isDashed?: boolean;
}>;

export type ChartProps = { label: string; traces: readonly Trace[]; unit: string; now: string; height?: number };

/** A chart of levels over time in steps. The library is fetched when the first chart is drawn, and never before. */
export function Chart({ label, traces, unit, now, height = 150 }: ChartProps) {
  const host = useRef<HTMLDivElement>(null);
  const [isDrawn, setIsDrawn] = useState(false);
  useEffect(() => {
    const element = host.current;
    if (!element) return;
    let isGone = false;
    const draw = async () => {
      const { default: plotly } = await import("plotly.js-dist-min");
      if (isGone) return;
      await plotly.react(element, tracesOf(traces), layoutOf({ unit, now, height }), { displayModeBar: false, responsive: true });
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
  }, [traces, unit, now, height]);
  useEffect(() => {
    const element = host.current;
    return () => {
      if (element) void import("plotly.js-dist-min").then(({ default: plotly }) => plotly.purge(element));
    };
  }, []);
  return (
    <figure aria-label={label} style={{ minHeight: height }}>
      {!isDrawn && <p className="text-soft">drawing…</p>}
      <div ref={host} aria-hidden />
    </figure>
  );
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

function layoutOf({ unit, now, height }: { unit: string; now: string; height: number }): unknown {
  const font = { family: getComputedStyle(document.body).fontFamily, size: 12, color: token("soft") };
  const axis = { gridcolor: token("lines"), zeroline: false, fixedrange: true };
  return {
    height,
    margin: { l: 36, r: 8, t: 6, b: 36 },
    paper_bgcolor: "transparent",
    plot_bgcolor: "transparent",
    font,
    showlegend: false,
    xaxis: { ...axis, type: "date", tickformat: "%a %e", dtick: 86_400_000 },
    yaxis: { ...axis, rangemode: "tozero", title: { text: unit, standoff: 4 } },
    shapes: [{ type: "line", x0: now, x1: now, yref: "paper", y0: 0, y1: 1, line: { color: token("attention"), width: 2 } }],
  };
}
