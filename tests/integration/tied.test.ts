import type { ChildProcess } from "node:child_process";
import { expect, test } from "vitest";
import { startNode } from "../../bin/lib/processes.mjs";
import { within } from "../support/patience";

/** A process whose threads end and whose files come and go. */
const BUSY = `
  import { closeSync, openSync } from "node:fs";
  import { Worker } from "node:worker_threads";
  const ended = () => new Promise((resolve) => new Worker("0", { eval: true }).once("exit", resolve));
  for (let i = 0; i < 3; i++) await ended();
  for (let i = 0; i < 3; i++) {
    for (const fd of Array.from({ length: 8 }, () => openSync(process.execPath))) closeSync(fd);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  console.log("still here");
  setInterval(() => {}, 1000);
`;

test(
  "a part outlives its threads, and ends when whoever started it does",
  async () => {
    const { child: started, firstLine } = startNode(["--input-type=module", "-e", BUSY]);
    const child = started as unknown as ChildProcess;
    const ended = new Promise((resolve) =>
      child.once("exit", (code: number | null, signal: string | null) => resolve(signal ?? code)),
    );
    expect(await firstLine).toBe("still here");
    expect(child.exitCode).toBeNull();
    (child.stdio[3] as { destroy: () => void }).destroy();
    expect(await ended).toBe("SIGTERM");
  },
  within(20),
);
