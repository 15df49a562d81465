import fc from "fast-check";
import { expect, test } from "vitest";
import {
  type Alarm,
  alarmReasonWords,
  type Evaluating,
  evaluate,
  type IdleRule,
  idleRuleSchema,
  replay,
  type Sample,
  type Slots,
  slotsOf,
  waitOf,
} from ".";

const STEP_S = 300;
const START = Date.UTC(2027, 2, 11, 5) / 1000;
const ruleOf = (more: object = {}): IdleRule =>
  idleRuleSchema.parse({
    match: "all",
    conditions: [{ metric: "cpu", statistic: "mean", op: "<", threshold: 2, window: 15 }],
    warn: 10,
    ...more,
  });
const slotsFrom = (samples: readonly Sample[], metrics = ["cpu", "net"]): Slots | null =>
  slotsOf(samples, { stepS: STEP_S, metrics });
const looking = (rule: IdleRule, more: Partial<Evaluating>): Evaluating => ({
  rule,
  now: START,
  slots: null,
  startedAt: START,
  isTripped: false,
  isHeldBack: false,
  paused: null,
  held: null,
  appliesAt: () => true,
  freshFrom: 0,
  waitS: 0,
  riseAfter: () => null,
  ...more,
});

const samples = fc
  .array(fc.tuple(fc.constantFrom(0, 1, 2, 3, null), fc.constantFrom(0, 1, 2, 3, null)), { minLength: 30, maxLength: 80 })
  .map((list): Sample[] =>
    list.flatMap(([cpu, net], i): Sample[] => {
      const at = START + (i + 1) * STEP_S;
      return [
        { at, metric: "cpu", value: cpu },
        { at, metric: "net", value: net },
      ];
    }),
  );
const condition = fc.record({
  metric: fc.constantFrom("cpu", "net"),
  statistic: fc.constantFrom("mean" as const, "max" as const, "p95" as const),
  op: fc.constantFrom("<" as const, "<=" as const, ">" as const),
  threshold: fc.constantFrom(1, 2, 3),
  window: fc.constantFrom(5, 10, 25),
});
const rules = fc.record({
  match: fc.constantFrom("all" as const, "any" as const),
  conditions: fc.array(condition, { minLength: 1, maxLength: 2 }),
  coverage: fc.constantFrom(0.5, 0.9),
  warn: fc.constantFrom(0, 5, 10),
  settle: fc.constantFrom(0, 12),
});

test("watched slot by slot, as samples come, it trips where the replay of the whole trips, whenever it is looked at in between", () => {
  let trips = 0;
  fc.assert(
    fc.property(samples, rules, fc.array(fc.boolean(), { minLength: 100, maxLength: 100 }), (all, more, twice) => {
      const rule = ruleOf(more);
      const whole = slotsFrom(all) as Slots;
      const expected = replay(rule, whole, null).trips;
      let alarm: Alarm | null = null;
      let startedAt: number | null = START;
      let back: number | null = null;
      const seen: number[] = [];
      for (let end = START + STEP_S; end <= START + (all.length / 2) * STEP_S; end += STEP_S) {
        if (back !== null && end < back) continue;
        if (back !== null) {
          startedAt = back;
          back = null;
        }
        const slots = slotsFrom(all.filter(({ at }) => at <= end));
        const look = () => evaluate(alarm, looking(rule, { now: end, slots, startedAt }));
        alarm = look();
        // A second look at the same samples changes nothing; of what tripped the trip is in effect by then.
        if (twice[(end - START) / STEP_S] && alarm.state !== "tripped") expect(look()).toBe(alarm);
        if (alarm?.state !== "tripped") continue;
        seen.push(end);
        back = expected.find(({ trippedAt }) => trippedAt === end)?.backAt ?? Number.POSITIVE_INFINITY;
        if (back === Number.POSITIVE_INFINITY) break;
      }
      expect(seen).toEqual(expected.map(({ trippedAt }) => trippedAt));
      trips += seen.length;
    }),
    { numRuns: 400 },
  );
  expect(trips).toBeGreaterThan(200);
});

test("with samples up to 20 minutes late, each metric apart, it says of every slot what the replay of what was stored says", () => {
  const LATEST = 20 * 60;
  let trips = 0;
  let kept = 0;
  const delays = fc.array(fc.integer({ min: 0, max: LATEST }), { minLength: 200, maxLength: 200 });
  fc.assert(
    fc.property(samples, rules, delays, (all, more, late) => {
      const rule = ruleOf({ ...more, warn: 0 });
      const whole = slotsFrom(all) as Slots;
      const expected = replay(rule, whole, null).trips;
      const cameAt = (i: number) => (all[i] as Sample).at + (late[i] as number);
      let alarm: Alarm | null = null;
      const lastEnd = START + (all.length / 2) * STEP_S;
      // Round by round until the first trip; what comes after one depends on who starts it again.
      for (let now = START + 60; now <= lastEnd + LATEST + 60; now += 60) {
        const slots = slotsFrom(all.filter((_, i) => cameAt(i) <= now));
        alarm = evaluate(alarm, looking(rule, { now, slots, waitS: LATEST, freshFrom: now - LATEST - STEP_S }));
        if (alarm.seenUntil !== null) expect(alarm.seenUntil).toBeLessThanOrEqual(now);
        const first = expected[0];
        if (alarm.state === "tripped") {
          // Slots that became whole together are looked at together: it holds at the newest of them too.
          expect(alarm.seenUntil).toBeGreaterThanOrEqual(first?.trippedAt ?? Number.POSITIVE_INFINITY);
          // Nothing newer that was known by then spoke against it.
          const seenUntil = alarm.seenUntil ?? 0;
          const newer = all.filter((sample, i) => sample.at > seenUntil && cameAt(i) <= now && sample.value !== null);
          expect(newer.filter((sample) => failsAlone(rule, sample))).toEqual([]);
          trips++;
          return;
        }
        if (first && alarm.seenUntil !== null && alarm.seenUntil >= first.trippedAt) {
          // It would have tripped, but for somebody who came since, or for what is not seen any more.
          expect(alarm.reason.code).toBe(alarm.state === "blind" ? "coverage" : "in use");
          kept++;
          return;
        }
      }
      expect(expected).toHaveLength(0);
    }),
    { numRuns: 300 },
  );
  expect(trips).toBeGreaterThan(30);
  expect(kept).toBeGreaterThan(5);
});

/** Of a rule whose conditions must all hold: this sample alone says that somebody is there. */
function failsAlone({ match, conditions }: IdleRule, { metric, value }: Sample): boolean {
  return (
    match === "all" &&
    conditions.some(
      (one) =>
        one.metric === metric &&
        !(one.op === "<"
          ? (value ?? 0) < one.threshold
          : one.op === "<="
            ? (value ?? 0) <= one.threshold
            : (value ?? 0) > one.threshold),
    )
  );
}

test("a slot is waited for as long as its metrics usually take, at least two steps, at most half an hour", () => {
  expect([null, 60, 900, 9_000].map((latenessS) => waitOf(latenessS, STEP_S))).toEqual([600, 600, 900, 1_800]);
  const rule = ruleOf({
    warn: 0,
    conditions: [
      { metric: "cpu", statistic: "mean", op: "<", threshold: 2, window: 15 },
      { metric: "net", statistic: "max", op: "<", threshold: 2, window: 15 },
    ],
  });
  const both = (cpu: number, net: number) => slotsFrom([...idle(cpu), ...idle(net).map((one) => ({ ...one, metric: "net" }))]);
  const look = (now: number, slots: Slots | null) =>
    evaluate(null, looking(rule, { now, slots, waitS: waitOf(null, STEP_S), freshFrom: now - 1_500 }));
  // Four minutes after its slot the second metric is not there yet: the slot before is the last that is whole.
  expect(look(at(5) + 60, both(5, 4))).toMatchObject({ state: "tripped", seenUntil: at(4) });
  expect(look(at(5) + 240, both(5, 5))).toMatchObject({ state: "tripped", seenUntil: at(5) });
  // One that never comes is not waited for for ever: then the alarm cannot see, and says so.
  expect(look(at(7) + 60, both(7, 4))).toMatchObject({
    state: "blind",
    reason: { code: "coverage", metric: "net" },
    seenUntil: at(5),
  });
});

test("somebody who came, or hours that began, since the slot that was looked at keep it from being stopped", () => {
  const rule = ruleOf({ warn: 0 });
  const waiting = { waitS: 600, freshFrom: 0 };
  const both = [...idle(6), { at: at(6), metric: "net", value: 0 }];
  const two = ruleOf({
    warn: 0,
    conditions: [...rule.conditions, { ...rule.conditions[0], metric: "net", op: "<=", threshold: 3 }],
    match: "any",
  });
  expect(evaluate(null, looking(two, { ...waiting, now: at(6), slots: slotsFrom(both) })).state).toBe("tripped");
  const came = [...idle(5), { at: at(6), metric: "net", value: 9 }];
  const all = ruleOf({ warn: 0, coverage: 0, conditions: [rule.conditions[0], { ...rule.conditions[0], metric: "net" }] });
  const seen = [...came, ...idle(4).map((one) => ({ ...one, metric: "net" }))];
  expect(evaluate(null, looking(all, { ...waiting, now: at(6), slots: slotsFrom(seen) }))).toMatchObject({
    state: "watching",
    reason: { code: "in use" },
    seenUntil: at(4),
  });
  const risen = looking(rule, {
    ...waiting,
    now: at(6),
    slots: slotsFrom(idle(5)),
    riseAfter: (t) => (t < at(6) ? at(6) : null),
  });
  expect(evaluate(null, risen)).toMatchObject({ state: "watching", reason: { code: "risen", at: at(6) } });
});

const idle = (count: number, value = 0): Sample[] =>
  Array.from({ length: count }, (_, i) => ({ at: START + (i + 1) * STEP_S, metric: "cpu", value }));
const at = (slot: number) => START + slot * STEP_S;

test("after a gap what is old may cancel a warning and gives none, and what is fresh has its whole warning", () => {
  const rule = ruleOf();
  const late = evaluate(null, looking(rule, { now: at(20), slots: slotsFrom(idle(20)), freshFrom: at(19) }));
  expect(late).toMatchObject({ state: "warned", warnedAt: at(20), seenUntil: at(20) });
  const next = evaluate(late, looking(rule, { now: at(21) + 60, slots: slotsFrom(idle(21)), freshFrom: at(20) }));
  expect(next.state).toBe("warned");
  expect(evaluate(next, looking(rule, { now: at(22), slots: slotsFrom(idle(22)), freshFrom: at(20) })).state).toBe("tripped");
  const busy = [...idle(25).slice(0, 22), { at: at(23), metric: "cpu", value: 50 }, ...idle(25).slice(23)];
  const woken = evaluate(next, looking(rule, { now: at(25), slots: slotsFrom(busy), freshFrom: at(24) }));
  expect(woken).toMatchObject({ state: "watching", reason: { code: "in use" } });
});

test("blind says why: silent, not covered, just started, off, or a window that fits no step", () => {
  const why = (more: Partial<Evaluating>, rule = ruleOf()) => {
    const alarm = evaluate(null, looking(rule, { now: at(10), slots: slotsFrom(idle(10)), ...more }));
    return `${alarm.state}: ${alarmReasonWords(alarm.reason, "the rule")}`;
  };
  expect(why({ slots: null })).toBe("blind: no sample of cpu is known");
  expect(why({ now: at(14) })).toBe("blind: no sample since 2027-03-11T05:50:00Z");
  expect(why({ startedAt: null })).toBe("blind: it does not run");
  expect(why({ startedAt: at(9) })).toBe("blind: it started at 2027-03-11T05:45:00Z: 15 min of samples are needed");
  expect(why({ startedAt: at(5) }, ruleOf({ settle: 30 }))).toBe("blind: it settles until 2027-03-11T05:55:00Z");
  expect(why({ slots: slotsFrom(idle(10).filter(({ at: t }) => t !== at(9))) })).toBe("blind: coverage 0.67 of 0.9: cpu");
  expect(why({}, ruleOf({ conditions: [{ ...ruleOf().conditions[0], window: 12 }] }))).toBe(
    "blind: a window of 12 min is no whole multiple of the step of 5 min",
  );
});

test("a pause and a hold cancel a warning, and nothing is new where nothing has come", () => {
  const rule = ruleOf();
  const warned = evaluate(null, looking(rule, { now: at(5), slots: slotsFrom(idle(5)) }));
  expect(warned.state).toBe("warned");
  expect(evaluate(warned, looking(rule, { now: at(5) + 60, slots: slotsFrom(idle(5)) }))).toBe(warned);
  const paused = evaluate(
    warned,
    looking(rule, { now: at(6), slots: slotsFrom(idle(6)), paused: { code: "paused", person: "p", until: at(9), reason: "r" } }),
  );
  expect(paused).toMatchObject({ state: "paused", warnedAt: null });
  const after = evaluate(paused, looking(rule, { now: at(7), slots: slotsFrom(idle(7)) }));
  expect(after).toMatchObject({ state: "warned", warnedAt: at(7) });
  expect(
    evaluate(
      warned,
      looking(rule, { now: at(6), slots: slotsFrom(idle(6)), held: { code: "held on", until: at(9), reason: "r" } }),
    ),
  ).toMatchObject({
    state: "watching",
    reason: { code: "held on", until: at(9) },
  });
});

test("a trip that is held back is ended by somebody who is there, and by nothing that cannot be seen", () => {
  const rule = ruleOf({ warn: 0 });
  const tripped = evaluate(null, looking(rule, { now: at(5), slots: slotsFrom(idle(5)) }));
  expect(tripped.state).toBe("tripped");
  const heldBack = (more: Partial<Evaluating>) => looking(rule, { isTripped: true, isHeldBack: true, ...more });
  // Nothing comes, it falls silent, it is off, its alarms are paused: it stands as it was.
  for (const more of [
    { now: at(6), slots: null },
    { now: at(40), slots: slotsFrom(idle(5)) },
    { now: at(6), startedAt: null },
    { now: at(6), paused: { code: "paused", person: "p", until: at(9), reason: "r" } as const },
  ])
    expect(evaluate(tripped, heldBack(more)), JSON.stringify(more)).toBe(tripped);
  const onwards = evaluate(tripped, heldBack({ now: at(8), slots: slotsFrom(idle(8)) }));
  expect(onwards).toMatchObject({ state: "tripped", since: tripped.since, seenUntil: at(8) });
  const used = slotsFrom([...idle(8), { at: at(9), metric: "cpu", value: 90 }]);
  expect(evaluate(onwards, heldBack({ now: at(9), slots: used }))).toMatchObject({
    state: "watching",
    reason: { code: "in use" },
  });
});
