// Says at the end how much memory the process had at most: `node --require ./bench/peak.cjs PROGRAM`.
const { isMainThread } = require("node:worker_threads");
if (isMainThread) process.on("exit", () => process.stderr.write(`peak ${process.resourceUsage().maxRSS} kB\n`));
