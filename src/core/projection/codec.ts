import { z } from "zod";
import { asLevel } from "../hours";
import { RESOURCE_KINDS } from "../plan";
import type { Amount, AmountPerSecond, RateCard } from "../pricing";
import type { Line, Ran } from "./line";

// How amounts cross to a browser and back: exact integers as text, and each card once however many share it.

const amount = z.codec(
  z.string().regex(/^-?\d+$/),
  z.custom<Amount>((value) => typeof value === "bigint"),
  {
    decode: (text) => BigInt(text) as Amount,
    encode: (value) => String(value),
  },
);
const rate = z.codec(
  z.string().regex(/^-?\d+$/),
  z.custom<AmountPerSecond>((value) => typeof value === "bigint"),
  {
    decode: (text) => BigInt(text) as AmountPerSecond,
    encode: (value) => String(value),
  },
);
const level = z.codec(
  z.number(),
  z.custom<ReturnType<typeof asLevel>>((value) => typeof value === "number"),
  {
    decode: asLevel,
    encode: (value) => value as number,
  },
);

/** A rate card and its form on the wire. */
export const rateCardCodec = z.strictObject({
  perLevel: rate,
  licencePerCore: rate,
  licenceCoresMin: z.number(),
  licenceCores: z.number().nullable(),
  billing: z.strictObject({ granularityS: z.number(), minimumS: z.number() }),
  always: rate,
  addressesOn: rate,
  addressesOff: rate,
  image: rate,
  billedWhenHalted: z.boolean(),
  unpriced: z.array(z.string()),
});

const ranCodec = z.strictObject({
  runs: z.array(z.strictObject({ from: z.number(), to: z.number(), level })),
  byWeekday: z.array(amount),
});

const lineCodec = z.strictObject({
  id: z.string(),
  kind: z.enum(RESOURCE_KINDS),
  one: z.strictObject({ kind: z.string(), fields: z.record(z.string(), z.string()) }),
  levelMax: z.number(),
  ownSize: level,
  /** The place of its card. */
  card: z.number().int(),
  ran: ranCodec.nullable(),
  isLeft: z.boolean(),
  canHibernate: z.boolean(),
});

const linesCodec = z.strictObject({ cards: z.array(rateCardCodec), lines: z.array(lineCodec) });
export type EncodedLines = z.input<typeof linesCodec>;

export function encodeLines(lines: readonly Line[]): EncodedLines {
  const cards = [...new Set(lines.map(({ card }) => card))];
  const place = new Map(cards.map((card, i) => [card, i]));
  return z.encode(linesCodec, {
    cards: cards.map((card) => ({ ...card, unpriced: [...card.unpriced] })),
    lines: lines.map((line) => ({
      ...line,
      one: { kind: line.one.kind, fields: { ...line.one.fields } },
      card: place.get(line.card) as number,
      ran: line.ran && { runs: [...line.ran.runs], byWeekday: [...line.ran.byWeekday] },
    })),
  });
}

/** Lines as they were before they crossed; those that shared a card share it again. Throws a ZodError on anything else. */
export function decodeLines(encoded: EncodedLines): readonly Line[] {
  const { cards, lines } = z.decode(linesCodec, encoded);
  return lines.map((line): Line => ({ ...line, card: cards[line.card] as RateCard, ran: line.ran as Ran | null }));
}
