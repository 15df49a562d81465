import { parentPort } from "node:worker_threads";
import { simulateStretch } from "@/core/mix";
import type { Task } from "./mix-threads";

// Runs in a thread of its own: each task it is given, it answers with what the trials came to.
parentPort?.on("message", ({ mix, stretch }: Task) => parentPort?.postMessage(simulateStretch(mix, stretch)));
