import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { openIdleTrials } from ".";
import type { Answer, Ask, HoursBy } from "./messages";

/** A worker that keeps what it is asked until a test answers. */
class FakeWorker {
  static last: FakeWorker;
  onmessage: ((event: { data: Answer }) => void) | null = null;
  readonly asked: Ask[] = [];
  constructor() {
    FakeWorker.last = this;
  }
  postMessage(ask: Ask): void {
    this.asked.push(ask);
  }
  terminate(): void {}
  answer(data: Answer): void {
    this.onmessage?.({ data });
  }
}

beforeEach(() => {
  vi.stubGlobal("Worker", FakeWorker);
});
afterEach(() => {
  vi.unstubAllGlobals();
});

const HOURS: HoursBy = { isByHand: false, list: [], of: [] };
const idOf = (ask: Ask | undefined) => (ask && "id" in ask ? ask.id : 0);

test("one try is under way at a time: of those that wait the newest follows, and the others hear that there is a newer", async () => {
  const trials = openIdleTrials();
  const worker = FakeWorker.last;
  const first = trials.tryRules([], HOURS, []);
  const second = trials.tryRules([], HOURS, []);
  const third = trials.tryRules([], HOURS, []);
  expect(worker.asked).toHaveLength(1);
  expect(await second).toBeNull();
  worker.answer({ kind: "tried", id: idOf(worker.asked[0]), resources: [] });
  expect(await first).toEqual([]);
  expect(worker.asked).toHaveLength(2);
  worker.answer({ kind: "tried", id: idOf(worker.asked[1]), resources: [] });
  expect(await third).toEqual([]);
});

test("a sweep tells how far it is, and one that is cancelled is nothing", async () => {
  const trials = openIdleTrials();
  const worker = FakeWorker.last;
  const ask = { rules: [], rule: 0, condition: 0, thresholds: [1], windows: [30], hours: HOURS, edges: [], rates: [null, 0.1] };
  const told: number[] = [];
  const swept = trials.sweep(ask, (done) => told.push(done));
  worker.answer({ kind: "progress", id: idOf(worker.asked[0]), done: 1, of: 2 });
  expect(told).toEqual([1]);
  trials.cancelSweep();
  expect(await swept).toBeNull();
  expect(worker.asked.at(-1)).toEqual({ kind: "cancel" });
});

test("what fails in the worker fails for whoever asked, with its words", async () => {
  const trials = openIdleTrials();
  const worker = FakeWorker.last;
  const tried = trials.tryRules([], HOURS, []);
  worker.answer({ kind: "failed", id: idOf(worker.asked[0]), message: "a step is no whole seconds" });
  await expect(tried).rejects.toThrow("a step is no whole seconds");
});
