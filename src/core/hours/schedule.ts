import { z } from "zod";
import { tryParseDate, WEEKDAYS, type Weekday } from "../time/date";
import { isZone } from "../time/zone";
import { asCount, HOURS_OFF, type HoursLevel, LEVEL_MAX } from "./level";
import { LOCAL } from "./local";
import { formatSpan, type Span, tryParseSpan } from "./span";

const levelSchema = z.number().int().min(0).max(LEVEL_MAX).transform(asCount);

/** What the published schema says of texts that are read by hand: as much as a pattern can, and nothing that a reader would take. */
const DATE_PATTERN = "\\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\\d|3[01])";
const RANGE_PATTERN = `${DATE_PATTERN}(\\.\\.${DATE_PATTERN})?`;
const SPAN_PATTERN = "^([01]\\d|2[0-3]):[0-5]\\d-(([01]\\d|2[0-3]):[0-5]\\d|24:00)( x\\d{1,7})?$";

/** `YYYY-MM-DD` or `YYYY-MM-DD..YYYY-MM-DD`, both ends included. */
export const dateRangeSchema = z
  .string()
  .meta({ pattern: `^${RANGE_PATTERN}$` })
  .superRefine((text, context) => {
    const [from, to, ...rest] = text.split("..");
    const first = tryParseDate(from ?? "");
    const last = to === undefined ? first : tryParseDate(to);
    if (first === null || last === null || rest.length > 0) {
      context.addIssue({
        code: "custom",
        message: `"${text}" is not a date or a range: expected YYYY-MM-DD or YYYY-MM-DD..YYYY-MM-DD`,
      });
    } else if (last < first) {
      context.addIssue({ code: "custom", message: `"${text}" runs backwards: the first date comes first` });
    } else if (last - first > 3660) {
      context.addIssue({ code: "custom", message: `"${text}" is longer than ten years` });
    }
  });

const weekdaySchema = z.enum(WEEKDAYS);

export const CLASS_KEYS = ["daily", "workdays", "restdays", "holidays"] as const;
export type ClassKey = (typeof CLASS_KEYS)[number];

const DAY_KEY_HELP =
  "expected daily, workdays, restdays, holidays, a weekday (mon … sun), a list of weekdays, a date or a range of dates";

const dayKeySchema = z
  .union([
    z.string().meta({ pattern: `^(${[...CLASS_KEYS, ...WEEKDAYS].join("|")}|${RANGE_PATTERN})$` }),
    z.array(z.string().meta({ enum: [...WEEKDAYS] })).min(1),
  ])
  .transform((key, context): DayKey => {
    const fail = (message: string) => {
      context.addIssue({ code: "custom", message });
      return z.NEVER;
    };
    if (Array.isArray(key)) {
      const wrong = key.find((name) => !isWeekday(name));
      if (wrong !== undefined)
        return fail(`"${wrong}" is not a weekday: a list of days holds mon, tue, wed, thu, fri, sat or sun`);
      return { kind: "weekdays", days: [...new Set(key as Weekday[])] };
    }
    if ((CLASS_KEYS as readonly string[]).includes(key)) return { kind: "class", name: key as ClassKey };
    if (isWeekday(key)) return { kind: "weekdays", days: [key] };
    if (!/^\d/.test(key)) return fail(`"${key}" is not a day key: ${DAY_KEY_HELP}`);
    const range = dateRangeSchema.safeParse(key);
    if (!range.success) return fail(range.error.issues[0]?.message ?? DAY_KEY_HELP);
    const [from, to] = key.split("..") as [string, string?];
    return { kind: "dates", from, to: to ?? from };
  });

function isWeekday(name: string): name is Weekday {
  return (WEEKDAYS as readonly string[]).includes(name);
}

/** Which local dates a row speaks for, least specific first: class (daily, then workdays / restdays), weekdays, holidays, dates. */
export type DayKey =
  | Readonly<{ kind: "class"; name: ClassKey }>
  | Readonly<{ kind: "weekdays"; days: readonly Weekday[] }>
  | Readonly<{ kind: "dates"; from: string; to: string }>;

const spanSchema = z
  .string()
  .meta({ pattern: SPAN_PATTERN })
  .transform((text, context): Span => {
    const result = tryParseSpan(text);
    if (result.ok) return result.span;
    context.addIssue({ code: "custom", message: result.message });
    return z.NEVER;
  });

export const rowSchema = z
  .strictObject({
    day: dayKeySchema,
    spans: z.array(spanSchema).min(1).optional(),
    off: z.literal(true).optional(),
    holidays: z.literal("too").optional(),
  })
  .meta({ oneOf: [{ required: ["spans"] }, { required: ["off"] }] })
  .superRefine((row, context) => {
    if ((row.spans === undefined) === (row.off === undefined)) {
      context.addIssue({ code: "custom", message: "a row has either `off: true` or at least one span" });
    }
    if (row.holidays && row.day?.kind !== "weekdays") {
      context.addIssue({ code: "custom", path: ["holidays"], message: "`holidays: too` belongs to a row of weekdays" });
    }
  })
  .transform(({ day, spans, holidays }): Row => ({ day, spans: spans ?? "off", onHolidays: holidays === "too" }));

/** A day key with its spans in order, or off for the whole day. */
export type Row = Readonly<{ day: DayKey; spans: readonly Span[] | "off"; onHolidays: boolean }>;

/** A zone by its name, or `local`. */
export const zoneSchema = z
  .string()
  .meta({ pattern: "^[A-Za-z0-9_+/-]+$" })
  .refine((zone) => zone === LOCAL || isZone(zone), {
    error: (issue) => `"${issue.input}" is not a time zone: expected a name such as Europe/Oslo, or local`,
  });

/** `off`, `leave` or a level: what holds where no span does. Null stands for leave. */
const outsideSchema = z
  .union([z.literal("off"), z.literal("leave"), levelSchema], { error: "expected off, leave or a level" })
  .default("off")
  .transform((outside): HoursLevel | null => (outside === "off" ? HOURS_OFF : outside === "leave" ? null : outside));

export const nameSchema = z
  .string()
  .trim()
  .min(1, "a name has at least one character")
  .max(80, "a name has at most 80 characters")
  .meta({ pattern: "\\S" });

export const scheduleSchema = z.strictObject({
  name: nameSchema,
  zone: zoneSchema,
  calendar: nameSchema.optional(),
  outside: outsideSchema,
  rows: z.array(rowSchema).max(1000),
});

/** A named week of hours in one zone, or in that of each resource's region. `outside` null leaves a resource as it is. */
export type Schedule = Readonly<{
  name: string;
  zone: string;
  calendar?: string | undefined;
  outside: HoursLevel | null;
  rows: readonly Row[];
}>;

export const calendarSchema = z.strictObject({
  name: nameSchema,
  rest: z.array(weekdaySchema).default(["sat", "sun"]),
  holidays: z.array(dateRangeSchema).max(5000).default([]),
});

/** Rest weekdays and holidays (dates or ranges, as text). */
export type Calendar = Readonly<{ name: string; rest: readonly Weekday[]; holidays: readonly string[] }>;

/** What a schedule goes by when it names no calendar: Saturday and Sunday rest, no holidays. */
export const PLAIN_CALENDAR: Calendar = { name: "plain", rest: ["sat", "sun"], holidays: [] };

/** A row's day key in the words of the plan file: `workdays`, `mon,tue`, `2027-04-01..2027-04-05`. */
export function dayKeyLabel(day: DayKey): string {
  switch (day.kind) {
    case "class":
      return day.name;
    case "weekdays":
      return day.days.join(",");
    case "dates":
      return day.from === day.to ? day.from : `${day.from}..${day.to}`;
  }
}

/** The schedule as it is written in a plan file; parsing it again gives the same schedule. */
export function scheduleToFile(schedule: Schedule): Record<string, unknown> {
  return {
    name: schedule.name,
    zone: schedule.zone,
    ...(schedule.calendar === undefined ? {} : { calendar: schedule.calendar }),
    outside: schedule.outside === null ? "leave" : schedule.outside === 0 ? "off" : schedule.outside,
    rows: rowsToFile(schedule.rows),
  };
}

/** Rows as they are written in a plan file. */
export function rowsToFile(rows: readonly Row[]): readonly Record<string, unknown>[] {
  return rows.map((row) => ({
    day: row.day.kind === "weekdays" && row.day.days.length > 1 ? [...row.day.days] : dayKeyLabel(row.day),
    ...(row.spans === "off" ? { off: true } : { spans: row.spans.map(formatSpan) }),
    ...(row.onHolidays ? { holidays: "too" } : {}),
  }));
}
