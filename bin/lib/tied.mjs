// Loaded into each part of the application before anything else: a part ends when whoever started it ends,
// however that came about. The pipe on descriptor 3 closes then.
// Threads load it, too, and leave the pipe alone: one that ends would close it under the whole process.
import { Socket } from "node:net";
import { isMainThread } from "node:worker_threads";

const FD = 3;
const GRACE_MS = 8000;

if (isMainThread) {
  try {
    const tie = new Socket({ fd: FD, readable: true, writable: false });
    tie.on("error", () => {});
    tie.on("close", () => {
      process.kill(process.pid, "SIGTERM");
      setTimeout(() => process.exit(1), GRACE_MS).unref();
    });
    tie.resume();
    tie.unref();
  } catch {
    // Started without the pipe, by hand say: nobody to be tied to.
  }
}
