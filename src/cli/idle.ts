import { asLevel, type CompiledSchedule } from "@/core/hours";
import {
  type HoursOver,
  hoursOver,
  type IdleRule,
  idleRuleSchema,
  metricsRead,
  type Replayable,
  replay,
  type Slots,
  slotsOf,
  suggested,
  sweepOf,
  tryMicrosOfText,
} from "@/core/idle";
import { divideHalfEven, formatMicros, type Micros, tryParseDecimal } from "@/core/pricing";
import { nearest } from "@/core/selector";
import { formatInstant, HOUR_S, MINUTE_S } from "@/core/time";
import { readFile, readSchedule } from "./files";
import { readFlags } from "./flags";
import { noAnswer, wrongUse } from "./problem";
import { readSamples } from "./samples";

/** `idle replay --rule F --samples F [--plan F --schedule N] [--zone Z] [--after-hours]` */
export function idleReplay(args: readonly string[]): unknown {
  const flags = readFlags(args, {
    rule: "required",
    samples: "required",
    plan: "optional",
    schedule: "optional",
    zone: "optional",
    "after-hours": "bare",
  });
  const { rule, resources } = readBoth(flags);
  const [one, second] = resources as [Replayable, Replayable | undefined];
  if (second)
    noAnswer(`${flags.samples}: there are ${resources.length} resources in it; idle replay takes one, idle sweep any number`);
  const { trips, offS, offDueS, interruptions } = replay(rule, one.slots, one.hours, { isAfterHours: flags["after-hours"] });
  return {
    trips: trips.map(({ warnedAt, trippedAt, backAt, interruption }) => ({
      warnedAt: formatInstant(warnedAt),
      trippedAt: formatInstant(trippedAt),
      backAt: backAt === null ? null : formatInstant(backAt),
      interruption,
    })),
    offHours: offS / HOUR_S,
    offHoursDue: offDueS / HOUR_S,
    interruptions,
  };
}

/** `idle sweep --rule F --samples F --thresholds X,X --windows M,M [--condition K] [--interruptions-per-week N] [--rate R] [--plan F --schedule N] [--zone Z]` */
export function idleSweep(args: readonly string[]): unknown {
  const flags = readFlags(args, {
    rule: "required",
    samples: "required",
    thresholds: "required",
    windows: "required",
    condition: "optional",
    "interruptions-per-week": "optional",
    rate: "optional",
    plan: "optional",
    schedule: "optional",
    zone: "optional",
  });
  const thresholds = listFlag("thresholds", flags.thresholds);
  const windows = listFlag("windows", flags.windows);
  const wrongWindow = windows.find((minutes) => minutes <= 0);
  if (wrongWindow !== undefined) wrongUse(`--windows: ${wrongWindow} is no length of a window`);
  const allowed = flags["interruptions-per-week"];
  const perWeek = allowed === undefined ? null : numberFlag("interruptions-per-week", allowed);
  if (perWeek !== null && perWeek < 0) wrongUse(`--interruptions-per-week "${allowed}": expected a number from 0`);
  const rate =
    flags.rate === undefined
      ? null
      : (tryParseDecimal(flags.rate) ?? wrongUse(`--rate "${flags.rate}": expected a decimal from 0, such as 0.42`));
  const wanted = flags.condition ?? "1";
  const condition = /^\d{1,6}$/.test(wanted) ? Number(wanted) : 0;
  if (condition < 1) wrongUse(`--condition "${wanted}": expected a whole number from 1`);
  const { rule, resources } = readBoth(flags);
  const swept = rule.conditions[condition - 1];
  if (!swept) wrongUse(`--condition ${condition}: the rule has ${rule.conditions.length}`);
  const stepS = rule.step * MINUTE_S;
  const off = windows.find((minutes) => Math.abs((minutes * MINUTE_S) % stepS) > 1e-9);
  if (off !== undefined) wrongUse(`--windows: ${off} min is no whole multiple of the step of ${rule.step} min`);
  const sweep = sweepOf(rule, { condition: condition - 1, thresholds, windows });
  for (const one of resources) sweep.add(one);
  const points = sweep.points();
  const best = suggested(points, { weeks: sweep.weeks(), allowed: perWeek, op: swept.op });
  return {
    condition,
    weeks: sweep.weeks(),
    points: points.map(({ threshold, window, tripCount, offS, offDueS, interruptions }) => ({
      threshold,
      window,
      trips: tripCount,
      offHours: offS / HOUR_S,
      offHoursDue: offDueS / HOUR_S,
      interruptions,
      saved: rate && formatMicros(moneyOf(offDueS, rate)),
    })),
    suggested: best && { threshold: best.threshold, window: best.window },
  };
}

const MILLIS = 1000;

/** What so many seconds cost at a rate an hour, rounded once. */
function moneyOf(seconds: number, { units, scale }: { units: bigint; scale: number }): Micros {
  const milliseconds = BigInt(Math.round(seconds * MILLIS));
  return divideHalfEven(milliseconds * units * 1_000_000n, BigInt(HOUR_S * MILLIS) * 10n ** BigInt(scale)) as Micros;
}

function numberFlag(name: string, text: string): number {
  const value = tryMicrosOfText(text.trim()) === null ? Number.NaN : Number(text);
  if (Number.isNaN(value)) wrongUse(`--${name} "${text}": expected a number`);
  return value;
}

function listFlag(name: string, text: string): number[] {
  const values = text.split(",").map((part) => numberFlag(name, part));
  const twice = values.find((value, i) => values.indexOf(value) !== i);
  if (twice !== undefined) wrongUse(`--${name}: ${twice} is given twice`);
  return values;
}

type Asked = Readonly<{
  rule: string;
  samples: string;
  plan: string | undefined;
  schedule: string | undefined;
  zone: string | undefined;
}>;
type Read = Readonly<{ rule: IdleRule & { step: number }; resources: readonly Replayable[] }>;

function readBoth({ rule: ruleFile, samples, plan, schedule, zone }: Asked): Read {
  if ((plan === undefined) !== (schedule === undefined)) wrongUse("--plan and --schedule go together");
  const rule = readFile(ruleFile, idleRuleSchema);
  const { step } = rule;
  if (step === undefined) noAnswer(`${ruleFile}: step is missing: minutes from one sample to the next`);
  if (rule.applies !== "always" && schedule === undefined)
    wrongUse(`the rule applies ${rule.applies} hours: say which with --plan and --schedule`);
  const compiled = plan !== undefined && schedule !== undefined ? readSchedule(plan, schedule, zone) : null;
  const { metrics: columns, byResource } = readSamples(samples);
  rule.conditions.forEach(({ metric }, i) => {
    if (columns.includes(metric)) return;
    const near = nearest(metric, new Map(columns.map((column) => [column, 1])));
    noAnswer(
      `${samples}: condition ${i + 1} is on "${metric}", and no column is named so${near ? `; there is "${near.name}"` : ""}`,
    );
  });
  const metrics = metricsRead(rule).filter((metric) => columns.includes(metric));
  const resources = byResource.map((list): Replayable => {
    const slots = slotsOf(list, { stepS: step * MINUTE_S, metrics }) as Slots;
    return { slots, hours: compiled && hoursOf(compiled, slots) };
  });
  return { rule: { ...rule, step }, resources };
}

function hoursOf(compiled: CompiledSchedule, { firstEnd, stepS, count }: Slots): HoursOver {
  const [from, to] = [firstEnd - stepS, firstEnd + (count - 1) * stepS];
  return hoursOver(compiled, { from, to, leadMinutes: 0, ownSize: asLevel(1) });
}
