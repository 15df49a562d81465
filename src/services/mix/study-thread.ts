import { parentPort } from "node:worker_threads";
import { type SumsAsked, sumTrials } from "./sum-trials";

// Runs in a thread of its own: trials of one mix, answered with their sums.
parentPort?.on("message", (asked: SumsAsked) => parentPort?.postMessage(sumTrials(asked)));
