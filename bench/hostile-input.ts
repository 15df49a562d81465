import { HANG_MS, holdsAgainst } from "../tests/support/fuzz/holds";
import { READERS } from "../tests/support/fuzz/readers";
import { report } from "./measure";

const RUNS = 10_000;

/** Ten thousand inputs of each kind that comes from outside: read or refused, none with a fault of ours, none slow. */
export async function benchHostileInput(): Promise<void> {
  for (const reader of READERS) {
    const name = `${RUNS} odd inputs read as ${reader.name}, the longest of them`;
    const told = { target: `${HANG_MS} ms, and no fault`, yardstick: "the processor's own time" };
    try {
      const ms = await holdsAgainst(reader, RUNS);
      report({ ...told, name, figure: `${ms.toFixed(0)} ms`, isMet: ms < HANG_MS });
    } catch (error) {
      report({ ...told, name, figure: error instanceof Error ? error.message.slice(0, 2_000) : String(error), isMet: false });
    }
  }
}
