import { parseArgs } from "node:util";
import { isNearMiss, nearest } from "@/core/selector";
import { DAY_S, tryParseInstant } from "@/core/time";
import { wrongUse } from "./problem";

/** What a command takes: `--name VALUE` flags, and those that are given bare. */
export type FlagSpec = Readonly<Record<string, "required" | "optional" | "bare">>;
type FlagValue = Readonly<{ required: string; optional: string | undefined; bare: boolean }>;
export type Flags<Spec extends FlagSpec> = { readonly [Name in keyof Spec]: FlagValue[Spec[Name]] };

/** Reads a command's flags. Unknown, missing and doubled ones, and those without a value that need one, are wrong use, and the line says which. */
export function readFlags<Spec extends FlagSpec>(args: readonly string[], spec: Spec): Flags<Spec> {
  const known = new Map(Object.keys(spec).map((name) => [name, 1]));
  const { tokens } = parseArgs({
    args: [...args],
    options: Object.fromEntries(
      Object.entries(spec).map(([name, need]) => [name, { type: need === "bare" ? ("boolean" as const) : ("string" as const) }]),
    ),
    strict: false,
    tokens: true,
  });
  const values: Record<string, string | boolean> = {};
  for (const token of tokens) {
    if (token.kind !== "option") wrongUse(`unexpected argument "${token.kind === "positional" ? token.value : "--"}"`);
    if (!known.has(token.name)) {
      const near = nearest(token.name, known);
      wrongUse(
        `unknown flag ${token.rawName}${near && isNearMiss(token.name, near.name) ? `; did you mean --${near.name}?` : ""}`,
      );
    }
    const isBare = spec[token.name] === "bare";
    if (isBare && token.value !== undefined) wrongUse(`--${token.name} takes no value`);
    if (!isBare && token.value === undefined) wrongUse(`--${token.name} needs a value`);
    if (values[token.name] !== undefined) wrongUse(`--${token.name} is given twice`);
    values[token.name] = token.value ?? true;
  }
  for (const [name, need] of Object.entries(spec)) {
    if (need === "required" && values[name] === undefined) wrongUse(`--${name} is missing`);
    if (need === "bare") values[name] ??= false;
  }
  return values as Flags<Spec>;
}

/** An instant from a flag's text. */
export function instantFlag(name: string, text: string): number {
  return (
    tryParseInstant(text) ??
    wrongUse(`--${name} "${text}" is not an instant: expected YYYY-MM-DDTHH:MM:SSZ or with an offset such as +02:00`)
  );
}

const SPAN_YEARS = 100;

/** A half-open span of time from --from and --to, of a hundred years at most. */
export function spanFlags({ from, to }: { from: string; to: string }): { from: number; to: number } {
  const span = { from: instantFlag("from", from), to: instantFlag("to", to) };
  if (span.to <= span.from) wrongUse(`--to ${to} is not after --from ${from}`);
  if (span.to - span.from > SPAN_YEARS * 366 * DAY_S)
    wrongUse(`--to ${to} is more than ${SPAN_YEARS} years after --from ${from}`);
  return span;
}

/** A whole number from `least` on. */
export function wholeFlag(name: string, text: string, least: number): number {
  const value = /^\d{1,12}$/.test(text) ? Number(text) : Number.NaN;
  if (!(value >= least)) wrongUse(`--${name} "${text}": expected a whole number from ${least}`);
  return value;
}
