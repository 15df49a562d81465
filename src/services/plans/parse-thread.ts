import { parentPort } from "node:worker_threads";
import { parsePlanFile } from "@/core/plan";

// Runs in a thread of its own: each plan file's text that it is given, it answers with what that reads as.
parentPort?.on("message", (text: string) => parentPort?.postMessage(parsePlanFile(text)));
