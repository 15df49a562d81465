import fc from "fast-check";
import { expect, test } from "vitest";
import { chooseReady, type PoolMachine } from "./choose";

const NOW = 1_800_000_000;
const machine = fc
  .record({
    id: fc.uuid(),
    name: fc.constantFrom("d1", "d2", "d3", "d4", "d5"),
    state: fc.constantFrom<PoolMachine["state"]>("running", "starting", "hibernated", "off"),
    since: fc.integer({ min: NOW - 5_000, max: NOW }),
    isGuarded: fc.boolean().map((is) => is),
    held: fc.constantFrom<PoolMachine["held"]>("on", "off", null, null, null),
    isInUse: fc.boolean(),
    isFailing: fc.boolean(),
  })
  .map((one): PoolMachine => ({ ...one, isInUse: one.isInUse && (one.state === "running" || one.state === "starting") }));
const pool = fc.uniqueArray(machine, { selector: ({ id }) => id, maxLength: 12 });
const choosing = fc.record({
  hours: fc.option(fc.nat(14), { nil: null }),
  spare: fc.nat(4),
  settleMinutes: fc.constantFrom(0, 10, 60),
  now: fc.constant(NOW),
});

const isUp = ({ state }: PoolMachine) => state === "running" || state === "starting";
/** The pool after its choice was carried out. */
const after = (machines: readonly PoolMachine[], chosen: ReturnType<typeof chooseReady>) =>
  machines.map((one): PoolMachine => {
    const choice = chosen.choices.get(one.id);
    if (!choice || choice.isOn === isUp(one)) return one;
    return choice.isOn ? { ...one, state: "starting", since: NOW } : { ...one, state: "hibernated", since: NOW, isInUse: false };
  });

test("nobody in use is lowered, no more are on than are wanted, held, in use or just started, and a second look changes nothing", () => {
  fc.assert(
    fc.property(pool, choosing, (machines, asked) => {
      const chosen = chooseReady(machines, asked);
      if (asked.hours === null) {
        expect(chosen.choices.size).toBe(0);
        return;
      }
      const free = machines.filter(({ isGuarded }) => !isGuarded);
      expect([...chosen.choices.keys()].sort()).toEqual(free.map(({ id }) => id).sort());
      const on = free.filter(({ id }) => chosen.choices.get(id)?.isOn);
      for (const one of free) {
        const isOn = chosen.choices.get(one.id)?.isOn;
        if (one.held === "off") expect(isOn).toBe(false);
        else if (one.held === "on" || one.isInUse || (isUp(one) && one.since > NOW - asked.settleMinutes * 60))
          expect(isOn).toBe(true);
      }
      const kept = on.filter(
        (one) => one.held === "on" || one.isInUse || (isUp(one) && one.since > NOW - asked.settleMinutes * 60),
      );
      expect(on.length).toBeLessThanOrEqual(Math.max(chosen.wanted ?? 0, kept.length));
      // As many as are wanted, where there are so many that may.
      expect(on.length).toBeGreaterThanOrEqual(Math.min(chosen.wanted ?? 0, free.filter(({ held }) => held !== "off").length));
      const again = chooseReady(after(machines, chosen), asked);
      for (const [id, { isOn }] of chosen.choices) expect(again.choices.get(id)?.isOn).toBe(isOn);
    }),
    { numRuns: 500 },
  );
});

test("it is the same whatever order they are listed in; equals go by name", () => {
  fc.assert(
    fc.property(pool, choosing, (machines, asked) => {
      const one = chooseReady(machines, asked);
      const other = chooseReady([...machines].reverse(), asked);
      for (const [id, choice] of one.choices) expect(other.choices.get(id)).toEqual(choice);
    }),
  );
  const plain = (name: string): PoolMachine => ({
    id: name,
    name,
    state: "hibernated",
    since: NOW,
    isGuarded: false,
    held: null,
    isInUse: false,
    isFailing: false,
  });
  const { choices } = chooseReady(["c", "a", "b"].map(plain), { hours: 2, spare: 0, settleMinutes: 10, now: NOW });
  expect(["a", "b", "c"].map((name) => choices.get(name)?.isOn)).toEqual([true, true, false]);
});

test("those in use and the spare ones are wanted above the hours, spare ones only while the hours want any", () => {
  const used = (n: number): PoolMachine => ({
    id: `u${n}`,
    name: `u${n}`,
    state: "running",
    since: NOW - 7_200,
    isGuarded: false,
    held: null,
    isInUse: n < 4,
    isFailing: false,
  });
  const machines = Array.from({ length: 8 }, (_, n) => used(n));
  const ask = (hours: number, spare: number) => chooseReady(machines, { hours, spare, settleMinutes: 10, now: NOW }).wanted;
  expect([ask(2, 0), ask(2, 3), ask(6, 1), ask(0, 3), ask(20, 0)]).toEqual([4, 7, 6, 4, 8]);
});

test("what could not be started of late is chosen after all that can be, and only where there are no others", () => {
  const off = (n: number): PoolMachine => ({
    id: `m${n}`,
    name: `m${n}`,
    state: n < 2 ? "hibernated" : "off",
    since: NOW - 9_000 + n,
    isGuarded: false,
    held: null,
    isInUse: false,
    isFailing: n < 4,
  });
  const machines = Array.from({ length: 8 }, (_, n) => off(n));
  const on = (hours: number) =>
    [...chooseReady(machines, { hours, spare: 0, settleMinutes: 10, now: NOW }).choices].flatMap(([id, { isOn }]) =>
      isOn ? [id] : [],
    );
  expect(on(4)).toEqual(["m4", "m5", "m6", "m7"]);
  expect(on(6)).toHaveLength(6);
});
