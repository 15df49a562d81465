import { expect, test } from "vitest";
import { aFleet, aMachine, PROVIDER } from "../../../tests/support/make";
import { asLevel } from "../hours";
import { formatMicros, microsOf, priceBook, rateCard } from "../pricing";
import { DAY_S } from "../time";
import { DEFAULT_AGES, findStrays, type StrayInput, straySums, strayTotal } from ".";

const NOW = 1000 * DAY_S;
const price = (item: "compute" | "disk" | "image" | "address unattached", rate: string) => ({
  region: "fjord-1",
  item,
  size: "",
  os: "",
  purchase: "",
  class: "",
  zone: "",
  rate,
  coresMin: 0,
});
const BOOK = priceBook(
  new Map([["p1", [price("compute", "1"), price("disk", "0.1"), price("image", "0.05"), price("address unattached", "0.01")]]]),
);
const input = (more: Partial<StrayInput>): StrayInput => ({
  now: NOW,
  ages: DEFAULT_AGES,
  resources: [],
  fleets: [aFleet()],
  hoursOf: () => ({ kind: "none" }),
  cardOf: (resource) => rateCard(resource, BOOK, PROVIDER),
  commitments: [],
  ...more,
});
const off = { level: asLevel(0), runSince: null };
const found = (more: Partial<StrayInput>) => findStrays(input(more)).map(({ kind, name }) => `${kind}: ${name}`);

test("disks and addresses with no machine are strays, those that belong to one are not", () => {
  const disk = (name: string, attachedTo: string | null) =>
    aMachine({ name, kind: "disk", state: "stopped", ...off, diskGib: 100, attachedTo });
  const address = aMachine({ name: "a", kind: "address", state: "stopped", ...off, diskGib: 0, addresses: 1 });
  const strays = findStrays(input({ resources: [disk("d1", null), disk("d2", "m1"), address] }));
  expect(strays.map(({ kind, name, perMonth }) => [kind, name, formatMicros(microsOf(perMonth))])).toEqual([
    ["disk without a machine", "d1", "10.000000"],
    ["address without a machine", "a", "7.300000"],
  ]);
});

test("a machine shut down from inside strays only where its provider goes on billing it", () => {
  const halted = aMachine({ state: "halted", ...off });
  expect(found({ resources: [halted] })).toEqual(["halted and billed: m1"]);
  const released = { ...PROVIDER, billedWhenHalted: false };
  expect(found({ resources: [halted], cardOf: (resource) => rateCard(resource, BOOK, released) })).toEqual([]);
});

test("an image is old and a run long from the set age on, to the second; guarded runs are meant", () => {
  const image = (since: number) => aMachine({ name: `i${since}`, state: "hibernated", ...off, since });
  const run = (runSince: number, tags = {}) =>
    aMachine({ name: `r${runSince}`, runSince, tags: { team: "draughting", ...tags } });
  const ages = { imageDays: 14, runDays: 30 };
  const [old, young] = [NOW - 14 * DAY_S - 1, NOW - 14 * DAY_S];
  expect(found({ ages, resources: [image(old), image(young)] })).toEqual([`old image: i${old}`]);
  const [long, short] = [NOW - 30 * DAY_S - 1, NOW - 30 * DAY_S];
  expect(found({ ages, resources: [run(long), run(short)] })).toEqual([`running long: r${long}`]);
  expect(found({ ages, resources: [run(long, { "umbrik-guard": "1" })] })).toEqual([]);
});

test("what runs and no fleet matches is a stray; what is off or guarded is not", () => {
  const other = { team: "other", region: "x" };
  const resources = [
    aMachine({ name: "on", tags: other, runSince: NOW - 5 }),
    aMachine({ name: "off", tags: other, state: "stopped", ...off }),
    aMachine({ name: "kept", tags: { ...other, "umbrik-guard": "yes" }, runSince: NOW - 5 }),
    aMachine({ name: "claimed", runSince: NOW - 5 }),
  ];
  expect(found({ resources })).toEqual(["in no fleet: on"]);
});

test("a tag a letter off what a fleet asks for, and a tag that names no hours, say what is likely meant", () => {
  const many = Array.from({ length: 10 }, (_, i) => aMachine({ name: `m${i}`, runSince: NOW }));
  const typo = aMachine({ name: "typo", tags: { team: "draugthing" }, state: "stopped", ...off });
  const [stray] = findStrays(input({ resources: [...many, typo] }));
  expect(stray).toMatchObject({ name: "typo", tag: { found: "team=draugthing", meant: "team=draughting" } });
  const named = findStrays(
    input({
      resources: [aMachine({ name: "lost", runSince: NOW })],
      fleets: [aFleet({ hours: { fromTag: "hours" } })],
      hoursOf: () => ({ kind: "unknown", text: "clasroom", nearest: "classroom" }),
    }),
  );
  expect(named).toMatchObject([{ kind: "tag that names nothing", tag: { found: "hours=clasroom", meant: "hours=classroom" } }]);
});

test("a commitment strays by what of its fee bought nothing, and not while less than one unit is idle", () => {
  const commitment = {
    id: 1,
    provider: "p1",
    account: "",
    region: "fjord-1",
    size: "s",
    units: 4,
    feePerHour: "4",
    fromDay: "2027-01-01",
    toDay: "2027-12-31",
  };
  const [stray] = findStrays(input({ commitments: [{ commitment, averageUsed: 1 }] }));
  expect(formatMicros(microsOf(stray?.perMonth ?? (0n as never)))).toBe("2190.000000");
  expect(found({ commitments: [{ commitment, averageUsed: 3.2 }] })).toEqual([]);
});

test("a thing that strays in two ways is counted once in the total", () => {
  const stray = aMachine({ tags: { team: "other" }, runSince: NOW - 100 * DAY_S, diskGib: 0 });
  const strays = findStrays(input({ resources: [stray] }));
  expect(strays.map(({ kind }) => kind)).toEqual(["running long", "in no fleet"]);
  expect(formatMicros(microsOf(strayTotal(strays)))).toBe("730.000000");
});

test("what serves nobody and what nobody has thought of are two sums that add up to all, whatever strays twice", () => {
  const alone = { tags: { team: "other" }, diskGib: 0 };
  const strays = findStrays(
    input({
      resources: [
        aMachine({ ...alone, name: "long", runSince: NOW - 100 * DAY_S }),
        aMachine({ ...alone, name: "new", runSince: NOW - DAY_S }),
        { ...aMachine({ name: "d1", kind: "disk", state: "stopped", diskGib: 100 }), attachedTo: null },
      ],
    }),
  );
  const { nobody, unthought } = straySums(strays);
  expect([nobody.count, unthought.count]).toEqual([1, 2]);
  expect(nobody.perMonth + unthought.perMonth).toBe(strayTotal(strays));
});
