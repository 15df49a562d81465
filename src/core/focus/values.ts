import { type Instant, tryParseInstant } from "../time";

const NUMBER = /^([+-]?)(?:(\d{1,20})(?:\.(\d{0,20}))?|\.(\d{1,20}))(?:[eE]([+-]?\d{1,2}))?$/;
/** Beyond this a number is no amount of money and no quantity. */
const EXPONENT_MAX = 20;
const CANONICAL = /^-?(?:0|[1-9]\d{0,19})(?:\.\d{1,20})?$/;

/**
 * A number as the specification has it: an integer, a decimal, or one with an exponent, "35.2E-7". The same as a plain
 * decimal, with as many digits; null for what is none.
 */
export function tryFocusNumber(text: string): string | null {
  if (CANONICAL.test(text) && text !== "-0") return text;
  const match = NUMBER.exec(text);
  if (!match) return null;
  const [, sign, whole = "", fraction = match[4] ?? "", , exponentText = "0"] = match;
  const exponent = Number(exponentText);
  if (Math.abs(exponent) > EXPONENT_MAX) return null;
  const digits = whole + fraction;
  const point = whole.length + exponent;
  const padded = "0".repeat(Math.max(0, 1 - point)) + digits.padEnd(Math.max(point, digits.length), "0");
  const at = Math.max(1, point);
  const before = padded.slice(0, at).replace(/^0+(?=\d)/, "");
  const after = padded.slice(at);
  const plain = after === "" ? before : `${before}.${after}`;
  return sign === "-" && /[1-9]/.test(plain) ? `-${plain}` : plain;
}

const INSTANT = /^(\d{4}-\d\d-\d\d)(?:[T ](\d\d:\d\d)(?::(\d\d)(?:[.,]\d{1,9})?)?\s?(Z|UTC|[+-]\d\d(?::?\d\d)?)?)?$/i;

/**
 * An instant as files write it: by ISO 8601, with a space for the T, without seconds or with fractions of one (which are
 * left out), or a date alone. One without a zone is UTC, as the specification wants of all. Null for what is none.
 */
export function tryFocusInstant(text: string): Instant | null {
  const match = INSTANT.exec(text);
  if (!match) return null;
  const [, date, minute = "00:00", second = "00", zone = "Z"] = match;
  return tryParseInstant(`${date}T${minute}:${second}${offsetOf(zone)}`);
}

function offsetOf(zone: string): string {
  if (/^(?:Z|UTC)$/i.test(zone)) return "Z";
  const digits = zone.slice(1).replace(":", "").padEnd(4, "0");
  return `${zone[0]}${digits.slice(0, 2)}:${digits.slice(2)}`;
}
