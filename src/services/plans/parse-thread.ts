import { parentPort, workerData } from "node:worker_threads";
import { parsePlanFile } from "@/core/plan";

// Runs in a thread of its own: it is given a plan file's text, answers with what it reads as, and ends.
parentPort?.postMessage(parsePlanFile(String(workerData)));
