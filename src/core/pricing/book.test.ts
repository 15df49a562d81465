import { expect, test } from "vitest";
import { aMachine, PROVIDER } from "../../../tests/support/make";
import { asLevel } from "../hours";
import {
  type AmountPerSecond,
  amountOf,
  cardReader,
  computePerSecond,
  costPerSecond,
  formatMicros,
  microsOf,
  priceBook,
  priceSchema,
  rateCard,
} from ".";

const price = (item: string, rate: string, more: object = {}) => priceSchema.parse({ region: "fjord-1", item, rate, ...more });
const BOOK = priceBook(
  new Map([
    [
      "p1",
      [
        price("compute", "1", { size: "sloop-4", purchase: "firm" }),
        price("compute", "0.25", { size: "sloop-4", os: "linux", purchase: "spot" }),
        price("licence", "0.05", { size: "sloop-4", os: "windows" }),
        price("licence", "0.4", { size: "depot", coresMin: 4 }),
        price("compute", "0.2", { size: "depot" }),
        price("disk", "0.073", { class: "plain" }),
        price("image", "0.0365"),
        price("address running", "0.004"),
        price("address stopped", "0.005"),
        price("address unattached", "0.006"),
      ],
    ],
  ]),
);
const perHour = (rate: AmountPerSecond) => formatMicros(microsOf(amountOf(3600, rate)));
const card = (more: Parameters<typeof aMachine>[0] = {}) => rateCard(aMachine({ diskGib: 0, ...more }), BOOK, PROVIDER);

test("a machine costs its compute; a licence is paid per core where the OS carries one", () => {
  expect(perHour(computePerSecond(card(), asLevel(1)))).toBe("1.000000");
  expect(perHour(computePerSecond(card({ os: "windows", cores: 4 }), asLevel(1)))).toBe("1.200000");
});

test("interruptible machines have their own rate, the most exact entry first", () => {
  const spot = aMachine({ diskGib: 0 });
  expect(
    perHour(computePerSecond(rateCard({ ...spot, fields: { ...spot.fields, purchase: "spot" } }, BOOK, PROVIDER), asLevel(1))),
  ).toBe("0.250000");
});

test("a group costs its members, a service its cores with a minimum of licensed ones", () => {
  expect(perHour(computePerSecond(card({ kind: "group" }), asLevel(3)))).toBe("3.000000");
  const service = aMachine({ kind: "service", diskGib: 0 });
  const depot = rateCard({ ...service, fields: { ...service.fields, size: "depot" } }, BOOK, PROVIDER);
  expect(perHour(computePerSecond(depot, asLevel(2)))).toBe("2.000000");
  expect(perHour(computePerSecond(depot, asLevel(6)))).toBe("3.600000");
  expect(perHour(computePerSecond(depot, asLevel(0)))).toBe("0.000000");
});

test.each([
  ["running", 1, "1.014000"],
  ["starting", 1, "1.014000"],
  ["stopping", 1, "1.014000"],
  ["halted", 0, "1.015000"],
  ["stopped", 0, "0.015000"],
  ["hibernated", 0, "0.015800"],
  ["gone", 0, "0.000000"],
] as const)("what is billed while a machine is %s", (state, level, expected) => {
  const machine = aMachine({ state, level: asLevel(level), diskGib: 100, addresses: 1, memoryGib: 16 });
  expect(perHour(costPerSecond(rateCard(machine, BOOK, PROVIDER), machine))).toBe(expected);
});

test("a machine shut down from inside costs no compute where the provider does not bill it", () => {
  const machine = aMachine({ state: "halted", level: asLevel(0), diskGib: 100 });
  expect(perHour(costPerSecond(rateCard(machine, BOOK, { ...PROVIDER, billedWhenHalted: false }), machine))).toBe("0.010000");
});

test("an address without a machine has its own rate", () => {
  const address = aMachine({ kind: "address", state: "stopped", level: asLevel(0), diskGib: 0, addresses: 1, attachedTo: null });
  expect(perHour(costPerSecond(rateCard(address, BOOK, PROVIDER), address))).toBe("0.006000");
});

test("what has no price counts as nothing and is named, never guessed", () => {
  const machine = aMachine({ diskClass: "fast" });
  const unknown = rateCard({ ...machine, fields: { ...machine.fields, size: "galleon-64" } }, BOOK, PROVIDER);
  expect(unknown.unpriced).toEqual(["compute galleon-64 linux firm", "disk fast"]);
  expect(unknown.perLevel).toBe(0n);
});

test("machines that agree in all that sets a price share a card, and others do not", () => {
  const cardOf = cardReader(BOOK, new Map([["a1", PROVIDER]]));
  expect(cardOf(aMachine({ name: "a" }))).toBe(cardOf(aMachine({ name: "b", tags: { team: "other" } })));
  expect(cardOf(aMachine({ name: "a" }))).not.toBe(cardOf(aMachine({ name: "b", diskGib: 101 })));
  expect(cardOf(aMachine({ account: "unknown" }))).toBeNull();
});

test.each(["-1", "0.0000000001", "1e3", ""])("a price list with the rate %o is refused", (rate) => {
  expect(priceSchema.safeParse({ region: "r", item: "compute", rate }).success).toBe(false);
});
