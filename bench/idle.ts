import {
  type Alarm,
  evaluate,
  type IdleRule,
  idleRuleSchema,
  replay,
  type Samples,
  type Slots,
  slotsIn,
  slotsOf,
  sweepOf,
  weekEdges,
  weeklyWorth,
} from "@/core/idle";
import type { BenchDemo } from "./demo";
import { medianMs, medianMsAsync, report } from "./measure";

const RULE: IdleRule = idleRuleSchema.parse({
  match: "all",
  conditions: [{ metric: "cpu", statistic: "mean", op: "<", threshold: 5, window: 60 }],
  warn: 10,
  settle: 10,
});
const DAYS = 28;
const START = Date.UTC(2027, 1, 8) / 1000;

/** Samples as a browser gets them: busy by day, all but idle by night, now and then missing. */
function samplesOf(machines: number, stepS: number): Samples {
  const count = (DAYS * 86_400) / stepS;
  const values = new Float32Array(machines * count);
  let state = 7;
  for (let m = 0; m < machines; m++) {
    for (let i = 0; i < count; i++) {
      state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
      const noise = state / 4_294_967_296;
      const hour = ((i * stepS) / 3600 + m * 0.37) % 24;
      values[m * count + i] = noise < 0.001 ? Number.NaN : noise * 3 + (hour > 8 && hour < 16 ? 35 : 0);
    }
  }
  const resources = Array.from({ length: machines }, (_, i) => ({ id: `m${i}`, name: `m${i}`, owner: null, trips: [] }));
  return {
    head: { stepS, firstEnd: START + stepS, count, knownFrom: START, metrics: ["cpu"], latenessS: [null], resources },
    values,
  };
}

/** Idle rules over past samples, as they come, and while one drags. */
export function benchIdle(yardstick: number): void {
  const beside = `${yardstick.toFixed(0)} ms`;
  const minutes = samplesOf(1_000, 60);
  const readMs = medianMs(() => readAll(minutes.values), 3);
  let trips = 0;
  const rooms = new Map();
  const backtest = (samples: Samples) => {
    trips = 0;
    samples.head.resources.forEach((_, i) => {
      trips += replay(RULE, slotsIn(samples, i, ["cpu"], rooms), null).tripCount;
    });
  };
  const backtestMs = medianMs(() => backtest(minutes), 3);
  if (trips < 20_000) throw new Error(`${trips} trips: it is not a backtest`);
  report({
    name: "backtest of 1,000 machines x 28 days x one minute (40 million samples)",
    figure: `${(backtestMs / 1000).toFixed(2)} s, ${(backtestMs / readMs).toFixed(1)} x one pass that reads them (${readMs.toFixed(0)} ms)`,
    target: "1.5 s",
    isMet: backtestMs <= 1_500,
    yardstick: beside,
  });

  const some = { ...minutes, head: { ...minutes.head, resources: minutes.head.resources.slice(0, 40) } };
  const oneMs = medianMs(() => backtest(some), 5);
  // From just above what a machine does by itself up to what it does at work.
  const thresholds = Array.from({ length: 12 }, (_, i) => 4 + i * 2);
  const windows = [10, 15, 20, 30, 45, 60, 90, 120, 180, 240, 360, 480];
  const sweepMs = medianMs(() => {
    const sweep = sweepOf(RULE, { condition: 0, thresholds, windows });
    for (let i = 0; i < some.head.resources.length; i++) sweep.add({ slots: slotsIn(some, i, ["cpu"], rooms), hours: null });
    return sweep.points();
  }, 3);
  report({
    name: "sweep of 12 x 12, 40 machines x 28 days x one minute",
    figure: `${sweepMs.toFixed(0)} ms, ${(sweepMs / oneMs).toFixed(1)} x one backtest (${oneMs.toFixed(0)} ms)`,
    target: "20 x one backtest",
    isMet: sweepMs <= 20 * oneMs,
    yardstick: beside,
  });

  const late = liveSlots(10_000);
  const now = START + 90 * 60;
  const before: Alarm = {
    state: "watching",
    since: START,
    reason: { code: "nothing seen" },
    warnedAt: null,
    seenUntil: now - 60,
  };
  const liveMs = medianMs(() => {
    for (const slots of late)
      evaluate(before, {
        rule: RULE,
        now,
        slots,
        startedAt: START,
        isTripped: false,
        isHeldBack: false,
        paused: null,
        held: null,
        appliesAt: () => true,
        waitS: 600,
        riseAfter: () => null,
        freshFrom: now - 120,
      });
  }, 5);
  report({
    name: "live evaluation of 10,000 machines, a minute's samples",
    figure: `${liveMs.toFixed(0)} ms`,
    target: "200 ms",
    isMet: liveMs <= 200,
    yardstick: beside,
  });

  const fleet = samplesOf(200, 300);
  const read = fleet.head.resources.map((_, i) => slotsIn(fleet, i, ["cpu"]));
  const edges = weekEdges("Europe/Oslo", { from: START, to: START + DAYS * 86_400 });
  let threshold = 3;
  const dragMs = medianMs(() => {
    threshold += 0.1;
    const rule = { ...RULE, conditions: RULE.conditions.map((one) => ({ ...one, threshold })) };
    for (const slots of read) weeklyWorth([rule], { slots, hours: null }, edges);
  }, 9);
  report({
    name: "dragging the threshold, 200 machines x 28 days x five minutes",
    figure: `${dragMs.toFixed(0)} ms a look`,
    target: "50 ms",
    isMet: dragMs <= 50,
    yardstick: beside,
  });
}

/** One pass that only reads. */
function readAll(values: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) {
    const value = values[i] as number;
    if (!Number.isNaN(value)) sum += value;
  }
  return sum;
}

/** The last hour and a half of each machine, minute by minute. */
function liveSlots(machines: number): Slots[] {
  return Array.from({ length: machines }, (_, m) => {
    const samples = Array.from({ length: 90 }, (__, i) => ({
      at: START + (i + 1) * 60,
      metric: "cpu",
      value: ((i * 7 + m) % 10) / 2,
    }));
    return slotsOf(samples, { stepS: 60, metrics: ["cpu"] }) as Slots;
  });
}

/** What a machine's page asks for its four weeks, at once. */
export async function benchMachineLife({ url, client }: BenchDemo, yardstick: number): Promise<void> {
  const { rows } = await client.query<{ id: string }>("select id from resource where name = 'desk-osl-03'");
  const id = encodeURIComponent(rows[0]?.id ?? "");
  const metrics = ["cpu", "network", "disk.ops", "sessions.active"].map((metric) => `&metric=${metric}`).join("");
  const ms = await medianMsAsync(
    async () => {
      const answers = await Promise.all([
        fetch(`${url}/api/machines/${id}/days`),
        fetch(`${url}/api/idle/samples?machine=${id}${metrics}`),
      ]);
      for (const answer of answers) if (!answer.ok) throw new Error(`${answer.status} ${await answer.text()}`);
      await Promise.all(answers.map((answer) => answer.arrayBuffer()));
    },
    { runs: 9 },
  );
  report({
    name: "a machine's four weeks of four metrics, asked for and received",
    figure: `${ms.toFixed(0)} ms`,
    target: "300 ms",
    isMet: ms <= 300,
    yardstick: `${yardstick.toFixed(0)} ms`,
  });
}
