import type { FrontierPoint, MixChoice, MixFigures } from "@/core/mix";
import type { Answer, Ask, Laid, Simulated } from "./messages";

export type { Laid, Simulated } from "./messages";

/** Two workers, so that a frontier, or months, keep no fan waiting. What is asked anew ends what was under way. */
export type MixWorkers = Readonly<{
  simulate: (laid: Laid, on: (simulated: Simulated) => void) => void;
  frontier: (laid: Laid, choices: readonly MixChoice[], on: (points: readonly FrontierPoint[]) => void) => void;
  /** Told of when all are there. */
  months: (months: readonly Laid[], on: (figures: readonly MixFigures[]) => void) => void;
  /** Ends what is under way; nothing of it is told any more. */
  cancel: (what: "simulate" | "frontier" | "months") => void;
  close: () => void;
}>;

/** Any number will do: the same gives the same picture again. */
const SEED = 1;

export function openMixWorkers(onError: (message: string) => void): MixWorkers {
  let ids = 0;
  const open = () => new Worker(new URL("./worker.ts", import.meta.url), { type: "module" });
  const [simulating, pointing] = [open(), open()];
  let onSimulated: (simulated: Simulated) => void = () => {};
  let onPoints: (points: readonly FrontierPoint[]) => void = () => {};
  let onMonths: (figures: readonly MixFigures[]) => void = () => {};
  let asked = { simulate: 0, frontier: 0, months: 0 };
  const listen = ({ data }: MessageEvent<Answer>) => {
    if (data.kind === "failed") onError(data.message);
    else if (data.kind === "simulated" && data.id === asked.simulate) onSimulated(data);
    else if (data.kind === "points" && data.id === asked.frontier) onPoints(data.points);
    else if (data.kind === "months" && data.id === asked.months) onMonths(data.figures);
  };
  simulating.onmessage = listen;
  pointing.onmessage = listen;
  return {
    simulate(laid, on) {
      onSimulated = on;
      asked = { ...asked, simulate: ++ids };
      simulating.postMessage({ kind: "simulate", id: ids, seed: SEED, ...laid } satisfies Ask);
    },
    frontier(laid, choices, on) {
      onPoints = on;
      asked = { ...asked, frontier: ++ids };
      pointing.postMessage({ kind: "frontier", id: ids, seed: SEED, choices, ...laid } satisfies Ask);
    },
    months(months, on) {
      onMonths = on;
      asked = { ...asked, months: ++ids };
      pointing.postMessage({ kind: "months", id: ids, seed: SEED, months } satisfies Ask);
    },
    cancel(what) {
      asked = { ...asked, [what]: 0 };
      (what === "simulate" ? simulating : pointing).postMessage({ kind: "cancel", of: what } satisfies Ask);
    },
    close() {
      simulating.terminate();
      pointing.terminate();
    },
  };
}
