import type { BenchDemo } from "./demo";
import { medianMsAsync, middle, report } from "./measure";

const AT_ONCE = 200;
const AT_ONCE_MS = 3_000;
const ALONE_MS = 300;
const PAGES = [
  "/",
  "/fleets",
  "/fleets/2",
  "/schedules",
  "/calendars/oslo",
  "/rounds",
  "/rounds/1",
  "/strays",
  "/reports",
  "/reports/realised",
  "/prices",
  "/usage",
  "/setup",
] as const;

/** The demo's pages, each alone, and Burn asked for by two hundred at once. */
export async function benchPages({ url }: BenchDemo, yardstick: number): Promise<void> {
  const ask = async (path: string) => {
    const response = await fetch(url + path);
    if (!response.ok) throw new Error(`${path} answered ${response.status}`);
    await response.text();
  };
  const beside = `sorting a million numbers, ${yardstick.toFixed(0)} ms`;
  const alone: [string, number][] = [];
  for (const path of PAGES) alone.push([path, await medianMsAsync(() => ask(path), { runs: 5 })]);
  report({
    name: "each page alone, on the demo",
    figure: alone.map(([path, ms]) => `${path} ${ms.toFixed(0)} ms`).join(", "),
    target: `at most ${ALONE_MS} ms`,
    isMet: alone.every(([, ms]) => ms <= ALONE_MS),
    yardstick: beside,
  });
  for (const path of ["/api/burn", "/"]) {
    const times = await Promise.all(
      Array.from({ length: AT_ONCE }, async () => {
        const begin = performance.now();
        await ask(path);
        return performance.now() - begin;
      }),
    );
    const p95 = [...times].sort((a, b) => a - b)[Math.ceil(AT_ONCE * 0.95) - 1] as number;
    report({
      name: `Burn asked for by ${AT_ONCE} at once, on the demo, ${path === "/" ? "the whole page" : "its lines"}`,
      figure: `p95 ${p95.toFixed(0)} ms, median ${middle(times).toFixed(0)} ms`,
      target: `p95 at most ${AT_ONCE_MS} ms`,
      isMet: p95 <= AT_ONCE_MS,
      yardstick: beside,
    });
  }
}
