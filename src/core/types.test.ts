import { expectTypeOf, test } from "vitest";
import { asCount, asLevel, type HoursLevel, type Level, ON, sizedLevel } from "./hours";
import type { FleetPlan } from "./plan";
import { type Amount, type AmountPerSecond, amountOf, formatCents, type Micros, microsOf, NO_AMOUNT, NO_RATE } from "./pricing";
import { decodeLines, type EncodedLines, encodeLines, type Line } from "./projection";
import { type SelectorText, selectorText } from "./selector";

/* What brands and the codec promise is held by the compiler: each line below that should not compile does not. */

test("what hours say is no level until a resource's size is known: on would be a million machines", () => {
  expectTypeOf(sizedLevel(ON, asLevel(6))).toEqualTypeOf<Level>();
  expectTypeOf(asCount(4)).toEqualTypeOf<HoursLevel>();
  // @ts-expect-error a count is no level
  expectTypeOf<Level>(asCount(4));
  // @ts-expect-error a level is not what hours say
  expectTypeOf<HoursLevel>(asLevel(4));
  // @ts-expect-error nor is a number
  expectTypeOf<Level>(4);
});

test("an amount, an amount a second and millionths are three things, and only millionths are shown", () => {
  expectTypeOf(amountOf(1, NO_RATE)).toEqualTypeOf<Amount>();
  expectTypeOf(microsOf(NO_AMOUNT)).toEqualTypeOf<Micros>();
  // @ts-expect-error a rate is no amount
  expectTypeOf<Amount>(NO_RATE);
  // @ts-expect-error an amount is no rate
  expectTypeOf<AmountPerSecond>(NO_AMOUNT);
  // @ts-expect-error an amount is rounded before it is shown
  formatCents(NO_AMOUNT);
  // @ts-expect-error a plain integer is no amount
  microsOf(1n);
});

test("a plan carries the text of a selector that was read where it came in, never a text as typed", () => {
  expectTypeOf<FleetPlan["select"]>().toEqualTypeOf<SelectorText>();
  expectTypeOf(selectorText("team = x")).toEqualTypeOf<SelectorText>();
  // @ts-expect-error what somebody types is no selector before it is read
  expectTypeOf<SelectorText>("team =");
});

test("what crosses to a browser is plain data, and comes back as the lines it was", () => {
  expectTypeOf(encodeLines).returns.toEqualTypeOf<EncodedLines>();
  expectTypeOf(decodeLines).returns.toEqualTypeOf<readonly Line[]>();
  expectTypeOf<EncodedLines["cards"][number]["perLevel"]>().toEqualTypeOf<string>();
  // @ts-expect-error lines with exact integers in them would not survive as JSON
  expectTypeOf<EncodedLines>([] as readonly Line[]);
});
