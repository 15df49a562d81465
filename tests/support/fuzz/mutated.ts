import fc from "fast-check";

/** What breaks readers: ends of ranges, marks of other formats, characters that are none, names that objects have anyway. */
const HOSTILE = [
  "\0",
  "\ud800",
  "\ufeff",
  "\r",
  "\n",
  '"',
  "'",
  "\\",
  "{",
  "}",
  "[",
  "]",
  "(",
  ")",
  "*",
  "&a ",
  "*a",
  "<<: *a",
  "!!js/function ",
  "__proto__",
  "constructor",
  "toString",
  "-1",
  "0",
  "1e309",
  "-0",
  "NaN",
  "99999999999999999999",
  "2147483648",
  "9007199254740993",
  "0000-00-00",
  "9999-12-31T23:59:59Z",
  "FREQ=SECONDLY;COUNT=99999999",
  "24:00",
  "=1+1",
  "null",
  "true",
  "☃",
] as const;
/** Whatever is done to it, a text grows no longer than this. */
const LENGTH_MAX = 200_000;

type Change = (text: string) => string;
const at = (text: string, place: number) => Math.floor(place * (text.length + 1));
const place = fc.double({ min: 0, max: 1, maxExcluded: true, noNaN: true });

const change: fc.Arbitrary<Change> = fc.oneof(
  fc.tuple(place, fc.constantFrom(...HOSTILE)).map(
    ([p, what]): Change =>
      (text) =>
        splice(text, at(text, p), 0, what),
  ),
  fc.tuple(place, fc.nat(40), fc.constantFrom("", ...HOSTILE)).map(
    ([p, length, what]): Change =>
      (text) =>
        splice(text, at(text, p), length, what),
  ),
  fc.tuple(place, fc.string({ maxLength: 20, unit: "binary" })).map(
    ([p, what]): Change =>
      (text) =>
        splice(text, at(text, p), 0, what),
  ),
  // A piece of it over and over: long lists, deep nesting, long names.
  fc.tuple(place, fc.integer({ min: 1, max: 60 }), fc.constantFrom(2, 10, 300, 5_000)).map(
    ([p, length, times]): Change =>
      (text) => {
        const from = at(text, p);
        const piece = text.slice(from, from + length);
        return splice(text, from, 0, piece.repeat(Math.min(times, Math.ceil(LENGTH_MAX / Math.max(1, piece.length)))));
      },
  ),
  place.map(
    (p): Change =>
      (text) =>
        text.slice(0, at(text, p)),
  ),
);

function splice(text: string, from: number, length: number, what: string): string {
  return text.slice(0, from) + what + text.slice(from + length);
}

/** One of some good texts, changed a few times; now and then any text at all. Shrinks to fewer and smaller changes. */
export function mutated(seeds: readonly string[]): fc.Arbitrary<string> {
  return fc.oneof(
    {
      weight: 9,
      arbitrary: fc
        .tuple(fc.constantFrom(...seeds), fc.array(change, { minLength: 1, maxLength: 5 }))
        .map(([seed, changes]) => changes.reduce((text, one) => one(text), seed).slice(0, LENGTH_MAX)),
    },
    { weight: 1, arbitrary: fc.string({ maxLength: 200, unit: "binary" }) },
  );
}

/** Bytes that were good, changed at some places and cut; now and then any bytes at all. */
export function mutatedBytes(seeds: readonly Uint8Array[]): fc.Arbitrary<Buffer> {
  const byte = fc.tuple(place, fc.integer({ min: 0, max: 255 }));
  return fc.oneof(
    {
      weight: 9,
      arbitrary: fc
        .tuple(fc.constantFrom(...seeds), fc.array(byte, { maxLength: 8 }), fc.constantFrom(1, 2, 300), place, fc.boolean())
        .map(([seed, changes, times, cut, isCut]) => {
          const bytes = Buffer.concat(Array.from({ length: times }, () => seed));
          for (const [p, value] of changes) bytes[Math.floor(p * bytes.length)] = value;
          return isCut ? bytes.subarray(0, Math.floor(cut * bytes.length)) : bytes;
        }),
    },
    { weight: 1, arbitrary: fc.uint8Array({ maxLength: 300 }).map((bytes) => Buffer.from(bytes)) },
  );
}
