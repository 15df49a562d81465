// Says at the end how much memory the process had at most: `node --require ./bench/peak.cjs PROGRAM`.
const { readFileSync } = require("node:fs");
const { isMainThread } = require("node:worker_threads");

// By the kernel's book of this program alone: what resourceUsage says counts the process that started it, too.
const peak = () => /VmHWM:\s+(\d+) kB/.exec(readFileSync("/proc/self/status", "utf8"))?.[1];
if (isMainThread) process.on("exit", () => process.stderr.write(`peak ${peak()} kB\n`));
