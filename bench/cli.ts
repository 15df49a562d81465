import { spawnSync } from "node:child_process";
import { medianMs, report } from "./measure";

const HELP_MS = 300;

/** How soon the command answers at all. */
export function benchCli(yardstick: number): void {
  const ms = medianMs(() => {
    const { status, stderr } = spawnSync("bin/umbrik", ["--help"], { encoding: "utf8" });
    if (status !== 0) throw new Error(stderr);
  });
  report({
    name: "umbrik --help",
    figure: `${ms.toFixed(0)} ms, ${(ms / yardstick).toFixed(1)} yardsticks`,
    target: `at most ${HELP_MS} ms`,
    isMet: ms <= HELP_MS,
    yardstick: `sorting a million numbers, ${yardstick.toFixed(0)} ms`,
  });
}
