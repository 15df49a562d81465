import fc from "fast-check";
import { expect, test } from "vitest";
import { aMachine, PROVIDER } from "../../../tests/support/make";
import { cardsOver, type PricePoint, type PriceTrack, priceHistory, withPoints } from ".";

const point = (more: Partial<PricePoint>): PricePoint => ({
  provider: "p1",
  region: "fjord-1",
  item: "compute",
  size: "sloop-4",
  os: "",
  purchase: "firm",
  class: "",
  zone: "",
  coresMin: 0,
  rate: "1",
  validFrom: 0,
  source: "provider",
  person: "",
  ...more,
});
const historyOf = (points: readonly PricePoint[]) => priceHistory(withPoints(new Map(), points).values());
const query = { provider: "p1", region: "fjord-1", item: "compute" as const, size: "sloop-4", os: "linux", purchase: "firm" };

test("the book as of any instant is the last line before it, and what a person set goes before, until it ends", () => {
  const lines = fc.array(
    fc.record({
      validFrom: fc.integer({ min: 0, max: 30 }),
      rate: fc.option(fc.integer({ min: 1, max: 9 }).map(String), { nil: null }),
      source: fc.constantFrom("hand" as const, "provider" as const),
      size: fc.constantFrom("sloop-4", ""),
    }),
    { minLength: 1, maxLength: 14 },
  );
  fc.assert(
    fc.property(lines, fc.integer({ min: -5, max: 40 }), (raw, t) => {
      // A provider's line always has a rate, and one key has one line at an instant.
      const seen = new Set<string>();
      const points = raw.flatMap((one) => {
        const key = `${one.size} ${one.source} ${one.validFrom}`;
        if (seen.has(key)) return [];
        seen.add(key);
        return [point({ ...one, rate: one.source === "provider" ? (one.rate ?? "5") : one.rate })];
      });
      const plain = (): string | undefined => {
        for (const size of ["sloop-4", ""]) {
          const own = points.filter((one) => one.size === size).sort((a, b) => a.validFrom - b.validFrom);
          const hand = own.filter(({ source, validFrom }) => source === "hand" && validFrom <= t).at(-1);
          if (hand && hand.rate !== null) return hand.rate;
          const told = own.filter(({ source, validFrom }) => source === "provider" && validFrom <= t).at(-1);
          if (told) return told.rate ?? undefined;
        }
        // Nothing was known yet: what was known first, and of what was known together the most exact.
        const told = points.filter(({ source }) => source === "provider").sort((a, b) => (a.size < b.size ? 1 : -1));
        return told.sort((a, b) => a.validFrom - b.validFrom)[0]?.rate ?? undefined;
      };
      expect(historyOf(points).bookAt(t).find(query)?.rate).toBe(plain());
    }),
  );
});

test("a resource has a card for every change of the prices it asks for, and none for the others", () => {
  const history = historyOf([
    point({ rate: "1", validFrom: 100 }),
    point({ rate: "2", validFrom: 200 }),
    point({ rate: "7", validFrom: 150, size: "ketch-8" }),
    point({ rate: "3", validFrom: 300, source: "hand" }),
    point({ rate: null, validFrom: 400, source: "hand" }),
  ]);
  const cards = cardsOver(history, new Map([["a1", PROVIDER]]));
  const machine = aMachine({ diskGib: 0 });
  const rates = (from: number, to: number) =>
    cards(machine, from, to)?.map((dated) => [dated.from, Number(dated.card.perLevel / (730n * 10n ** 9n))]);
  expect(rates(0, 1000)).toEqual([
    [Number.NEGATIVE_INFINITY, 1],
    [200, 2],
    [300, 3],
    [400, 2],
  ]);
  expect(rates(250, 260)).toEqual([[200, 2]]);
  expect(rates(250, 301)).toEqual([
    [200, 2],
    [300, 3],
  ]);
  expect(cards(aMachine({ account: "nobody" }), 0, 1)).toBeNull();
});

test("what was told of all zones counts in each until that is told apart", () => {
  const history = historyOf([
    point({ rate: "1", validFrom: 100 }),
    point({ rate: "2", validFrom: 200, zone: "fjord-1a" }),
    point({ rate: "3", validFrom: 300, zone: "fjord-1b" }),
  ]);
  const at = (t: number, zone: string) => history.bookAt(t).find({ ...query, zone })?.rate;
  expect([150, 250, 350].map((t) => at(t, "fjord-1a"))).toEqual(["1", "2", "2"]);
  expect([150, 250, 350].map((t) => at(t, "fjord-1b"))).toEqual(["1", "1", "3"]);
  expect(at(350, "fjord-1c")).toBe("1");
  const cards = cardsOver(history, new Map([["a1", PROVIDER]]));
  const own = aMachine({
    fields: { account: "a1", provider: "p1", region: "fjord-1", zone: "fjord-1b", size: "sloop-4", purchase: "firm" },
  });
  expect(cards(own, 0, 1000)).toHaveLength(2);
});

test("before the first price that is known there is none, for those who ask what was known", () => {
  const history = historyOf([point({ rate: "1", validFrom: 100 }), point({ rate: "2", validFrom: 200 })]);
  const rates = (t: number) => [history.bookAt(t).find(query)?.rate, history.lookup(query).knownAt(t)?.rate];
  expect([50, 100, 250].map(rates)).toEqual([
    ["1", undefined],
    ["1", "1"],
    ["2", "2"],
  ]);
});

test("tracks that grow batch by batch are those of all points at once, the last said at an instant counting", () => {
  const said = fc.record({
    validFrom: fc.integer({ min: 0, max: 20 }),
    rate: fc.integer({ min: 1, max: 9 }).map(String),
    size: fc.constantFrom("sloop-4", "ketch-8"),
    source: fc.constantFrom("hand" as const, "provider" as const),
    person: fc.constantFrom("", "ada"),
  });
  fc.assert(
    fc.property(fc.array(fc.array(said, { maxLength: 6 }), { maxLength: 5 }), (raw) => {
      const batches = raw.map((batch) => batch.map(point));
      const grown = batches.reduce<ReadonlyMap<string, PriceTrack>>((tracks, batch) => withPoints(tracks, batch), new Map());
      expect(grown).toEqual(withPoints(new Map(), batches.flat()));
      for (const { from, rates, of, source } of grown.values()) {
        expect([...from]).toEqual([...new Set(from)].sort((a, b) => a - b));
        for (const [i, t] of from.entries()) {
          const last = batches.flat().findLast((one) => one.validFrom === t && one.size === of.size && one.source === source);
          expect(rates[i]).toBe(last?.rate);
        }
      }
    }),
  );
});

test("cards over any span are those of the whole that reach into it, whatever was asked before", () => {
  const machine = aMachine({ diskGib: 0 });
  const capabilities = new Map([["a1", PROVIDER]]);
  const points = fc.uniqueArray(fc.record({ validFrom: fc.integer({ min: 0, max: 40 }), rate: fc.constantFrom("1", "2") }), {
    selector: ({ validFrom }) => validFrom,
    minLength: 1,
    maxLength: 14,
  });
  const spans = fc.array(fc.tuple(fc.integer({ min: -5, max: 45 }), fc.integer({ min: 1, max: 20 })), { maxLength: 8 });
  fc.assert(
    fc.property(points, spans, (raw, asked) => {
      const history = historyOf(raw.map(point));
      const cards = cardsOver(history, capabilities);
      for (const [from, length] of asked) {
        const to = from + length;
        const own = cards(machine, from, to) ?? [];
        expect(own[0]?.from).toBeLessThanOrEqual(from);
        for (const [i, { from: since }] of own.entries()) if (i > 0) expect(since > from && since < to).toBe(true);
        for (let t = from; t < to; t++) {
          const rate = history.bookAt(t).find(query)?.rate;
          const card = own.findLast((dated) => dated.from <= t)?.card;
          expect(card?.perLevel, `at ${t}`).toBe(BigInt(rate ?? 0) * 730n * 10n ** 9n);
        }
        for (let i = 1; i < own.length; i++) expect(own[i]?.card.perLevel).not.toBe(own[i - 1]?.card.perLevel);
        expect(cards(machine, from, to)).toBe(own);
      }
    }),
  );
});
