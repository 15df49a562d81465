import type { LifeWeek } from "@/services/inventory";

const LOOKS = {
  on: { fill: "var(--lit)", y: 0, height: 10 },
  off: { fill: "var(--shade)", y: 4, height: 2 },
  hibernated: { fill: "var(--doze)", y: 3, height: 4 },
  halted: { fill: "var(--loss)", y: 0, height: 10 },
  gone: { fill: "transparent", y: 0, height: 10 },
} as const;

/** Seven days of a life, a row high: tall where it ran, a line where it was off. Each day begins at a tick. */
export function WeekStrip({ week }: { week: LifeWeek | undefined }) {
  if (!week) return null;
  const { spans, onHours } = week;
  const words = `on for ${onHours} of the last 168 hours`;
  return (
    <svg role="img" aria-label={words} viewBox="0 0 140 10" preserveAspectRatio="none" className="block h-[14px] w-full">
      <title>{words}</title>
      {spans.map(([from, state], i) => {
        const to = spans[i + 1]?.[0] ?? 1;
        const { fill, y, height } = LOOKS[state];
        return <rect key={from} x={from * 140} width={Math.max(0.4, (to - from) * 140)} y={y} height={height} fill={fill} />;
      })}
      {[1, 2, 3, 4, 5, 6].map((day) => (
        <line key={day} x1={day * 20} x2={day * 20} y1={0} y2={10} stroke="var(--paper)" strokeWidth={0.6} />
      ))}
    </svg>
  );
}
