import { setFlagsFromString } from "node:v8";
import { parentPort } from "node:worker_threads";
import { simulateStretch } from "@/core/mix";
import type { Task } from "./mix-threads";

// The event loop is many small functions, one inside the other. By V8's usual measure (920 bytes of code drawn into one)
// some of them stay calls: a tenth of its time.
setFlagsFromString("--max-inlined-bytecode-size-cumulative=2000");

// Runs in a thread of its own: each task it is given, it answers with what the trials came to.
parentPort?.on("message", ({ mix, stretch }: Task) => parentPort?.postMessage(simulateStretch(mix, stretch)));
