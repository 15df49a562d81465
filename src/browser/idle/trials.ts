import type { EnvelopeAsked, IdleRule, SamplesHead } from "@/core/idle";
import type { Instant } from "@/core/time";
import type { Answer, Ask, HoursBy, Picture, SweepPoint, TriedResource } from "./messages";

export type Swept = Readonly<{ points: readonly SweepPoint[]; weeks: number }>;

/** A worker that tries rules on the samples of a fleet. Of what is asked in quick succession only the last is answered. */
export type IdleTrials = Readonly<{
  load: (buffer: ArrayBuffer) => Promise<SamplesHead>;
  /** Null where something newer was asked before it was answered. */
  tryRules: (rules: readonly IdleRule[], hours: HoursBy, edges: readonly Instant[]) => Promise<readonly TriedResource[] | null>;
  picture: (asked: EnvelopeAsked) => Promise<Picture | null>;
  sweep: (ask: SweepAsk, onProgress: (done: number, of: number) => void) => Promise<Swept | null>;
  cancelSweep: () => void;
  close: () => void;
}>;

type SweepAsk = Omit<Extract<Ask, { kind: "sweep" }>, "kind" | "id">;
type Kind = "load" | "try" | "picture" | "sweep";
type Waiting = { id: number; resolve: (answer: Answer | null) => void; reject: (error: Error) => void };

export function openIdleTrials(): IdleTrials {
  const worker = new Worker(new URL("./worker.ts", import.meta.url), { type: "module" });
  const waiting = new Map<Kind, Waiting>();
  let ids = 0;
  let progress: (done: number, of: number) => void = () => {};
  /** One try is under way at a time: the newest of those that wait follows it. */
  let next: Readonly<{ send: () => void; drop: () => void }> | null = null;

  const settle = (kind: Kind, answer: Answer | null) => {
    const one = waiting.get(kind);
    if (!one || (answer !== null && "id" in answer && answer.id !== one.id)) return;
    waiting.delete(kind);
    one.resolve(answer);
  };
  worker.onmessage = ({ data }: MessageEvent<Answer>) => {
    if (data.kind === "progress") return progress(data.done, data.of);
    if (data.kind === "failed") {
      for (const [kind, one] of waiting) {
        if (one.id !== data.id && data.id !== 0) continue;
        waiting.delete(kind);
        one.reject(new Error(data.message));
      }
      return;
    }
    const kind = ({ loaded: "load", tried: "try", picture: "picture", swept: "sweep" } as const)[data.kind];
    settle(kind, data);
    if (kind === "try") {
      const follow = next;
      next = null;
      follow?.send();
    }
  };
  const ask = <A extends Answer>(kind: Kind, make: (id: number) => Ask, transfer: Transferable[] = []): Promise<A | null> =>
    new Promise((resolve, reject) => {
      waiting.get(kind)?.resolve(null);
      const id = ++ids;
      waiting.set(kind, { id, resolve: resolve as Waiting["resolve"], reject });
      worker.postMessage(make(id), transfer);
    });
  return {
    async load(buffer) {
      const answer = await ask<Extract<Answer, { kind: "loaded" }>>("load", () => ({ kind: "load", buffer }), [buffer]);
      if (!answer) throw new Error("other samples were loaded meanwhile");
      return answer.head;
    },
    tryRules(rules, hours, edges) {
      return new Promise((resolve, reject) => {
        const send = () =>
          void ask<Extract<Answer, { kind: "tried" }>>("try", (id) => ({ kind: "try", id, rules, hours, edges })).then(
            (answer) => resolve(answer?.resources ?? null),
            reject,
          );
        if (!waiting.has("try")) return send();
        // Whoever waited for an older one is told that there is a newer.
        next?.drop();
        next = { send, drop: () => resolve(null) };
      });
    },
    async picture(asked) {
      const answer = await ask<Extract<Answer, { kind: "picture" }>>("picture", (id) => ({ kind: "picture", id, asked }));
      return answer?.picture ?? null;
    },
    async sweep(asked, onProgress) {
      progress = onProgress;
      const answer = await ask<Extract<Answer, { kind: "swept" }>>("sweep", (id) => ({ kind: "sweep", id, ...asked }));
      return answer && { points: answer.points, weeks: answer.weeks };
    },
    cancelSweep() {
      worker.postMessage({ kind: "cancel" } satisfies Ask);
      settle("sweep", null);
    },
    close: () => worker.terminate(),
  };
}
