import type { IdleRule } from "../rule";

/** A row of a file of samples, as a careful person reads it: the instant, and a decimal text by metric. */
export type Row = Readonly<{ at: number; cells: Readonly<Record<string, string>> }>;
export type SlowHours = Readonly<{ levelAt: (t: number) => number | null; from: number; to: number }>;
export type SlowTrip = Readonly<{ warnedAt: number; trippedAt: number; backAt: number | null; interruption: boolean }>;
export type SlowResult = Readonly<{ trips: readonly SlowTrip[]; offS: number; offDueS: number }>;

/**
 * The rules of docs/model.md, Idle alarms, written down as they are told, without any thought of speed: a window is gathered and
 * sorted anew at every slot, hours are asked second by second of a coarse grid. The tests hold the product to it.
 */
export function slowReplay(
  rule: IdleRule & { step: number },
  rows: readonly Row[],
  { hours, isAfterHours = false }: Readonly<{ hours: SlowHours | null; isAfterHours?: boolean }>,
): SlowResult {
  const h = rule.step * 60;
  const endOf = (at: number) => Math.ceil(at / h) * h;
  const slots = new Map<number, Map<string, { at: number; value: bigint }>>();
  const columns = new Set<string>();
  for (const { at, cells } of rows) {
    const end = endOf(at);
    const slot = slots.get(end) ?? new Map();
    slots.set(end, slot);
    for (const [metric, text] of Object.entries(cells)) {
      columns.add(metric);
      if (text === "") continue;
      const old = slot.get(metric);
      if (!old || at >= old.at) slot.set(metric, { at, value: micros(text) });
    }
  }
  const ends = [...slots.keys()].sort((a, b) => a - b);
  const [first, last] = [ends[0] as number, ends.at(-1) as number];
  // After hours a slot any minute of which is off counts as a row without values.
  const isOff = (end: number): boolean => {
    if (!isAfterHours || !hours) return false;
    for (let t = end - h; t < end; t += 60) if (hours.levelAt(t) === 0) return true;
    return false;
  };
  const valueAt = (metric: string, end: number) => (isOff(end) ? undefined : slots.get(end)?.get(metric)?.value);

  let startedAt = first - h;
  const holdsOver = (c: IdleRule["conditions"][number], end: number): "blind" | boolean => {
    const w = c.window * 60;
    if (end - w < startedAt || end < startedAt + rule.settle * 60) return "blind";
    const present: bigint[] = [];
    let count = 0;
    for (let e = end - w + h; e <= end; e += h) {
      count++;
      const value = valueAt(c.metric, e);
      if (value !== undefined) present.push(value);
    }
    if (present.length === 0 || present.length * 1000 < Math.round(rule.coverage * 1000) * count) return "blind";
    present.sort((a, b) => (a < b ? -1 : a > b ? 1 : 0));
    const threshold = micros(String(c.threshold));
    if (c.statistic === "mean")
      return met(
        present.reduce((sum, value) => sum + value, 0n),
        c.op,
        threshold * BigInt(present.length),
      );
    const rank = c.statistic === "max" ? present.length : Math.floor((19 * present.length + 19) / 20);
    return met(present[rank - 1] as bigint, c.op, threshold);
  };
  const applies = (t: number): boolean => {
    if (rule.applies === "always") return true;
    const level = hours?.levelAt(t) ?? null;
    const isOn = level !== null && level > 0;
    return rule.applies === "inside" ? isOn : !isOn;
  };
  const evaluate = (end: number): "nothing" | "elsewhen" | "blind" | boolean => {
    if (!rule.conditions.some(({ metric }) => valueAt(metric, end) !== undefined)) return "nothing";
    if (!applies(end)) return "elsewhen";
    const answers = rule.conditions.map((c) => holdsOver(c, end));
    if (rule.match === "all") return answers.includes("blind") ? "blind" : answers.every((a) => a === true);
    return answers.every((a) => a === "blind") ? "blind" : answers.some((a) => a === true);
  };
  const isOnset = (end: number): boolean => {
    const said = rule.conditions.flatMap((c) => {
      const value = valueAt(c.metric, end);
      if (value === undefined) return [];
      if ((c.metric === "sessions.disconnected" || c.metric === "sessions.since_signoff") && columns.has("sessions.active"))
        return [!((valueAt("sessions.active", end) ?? 0n) > 0n)];
      return [met(value, c.op, micros(String(c.threshold)))];
    });
    if (said.length === 0) return false;
    return rule.match === "all" ? said.includes(false) : !said.includes(true);
  };

  const rises: number[] = [];
  if (hours) {
    const up = (t: number) => hours.levelAt(t) ?? 0;
    for (let t = hours.from + 60; t <= hours.to; t += 60) if (up(t) > up(t - 60)) rises.push(t);
  }
  const starts = isAfterHours && hours ? rises.filter((t) => hours.levelAt(t - 60) === 0) : [];
  /** Hours started it before the end of a slot: nothing from before that counts any more. */
  const startBefore = (end: number): boolean => {
    const begun = starts.filter((t) => t > startedAt && t < end);
    startedAt = begun.at(-1) ?? startedAt;
    return begun.length > 0;
  };
  const trips: SlowTrip[] = [];
  let [offS, offDueS] = [0, 0];
  let warnedAt: number | null = null;
  for (let end = first; end <= last; end += h) {
    if (end <= startedAt) continue;
    if (startBefore(end)) warnedAt = null;
    const said = evaluate(end);
    if (said === "nothing") continue;
    if (said !== true) {
      warnedAt = null;
      continue;
    }
    warnedAt ??= end;
    if (end < warnedAt + rule.warn * 60) continue;
    if (rule.action === "tell") {
      let back: number | null = null;
      for (let e = end + h; e <= last && back === null; e += h) {
        startBefore(e);
        const later = evaluate(e);
        if (later === false || later === "blind") back = e;
      }
      trips.push({ warnedAt, trippedAt: end, backAt: back, interruption: false });
      if (back === null) break;
      end = back;
      warnedAt = null;
      continue;
    }
    const rise = rises.find((t) => t > end) ?? Number.POSITIVE_INFINITY;
    let onset = Number.POSITIVE_INFINITY;
    for (let e = end + h; e <= last; e += h)
      if (isOnset(e)) {
        onset = e;
        break;
      }
    const back = Math.min(rise, onset);
    const isOver = back <= last;
    const until = isOver ? back : last;
    const byOnset = isOver && onset < rise;
    const startS = byOnset ? rule.startMinutes * 60 : 0;
    offS += Math.max(0, until - end - startS);
    let due = 0;
    for (let t = end; t < until; t += 60) if (hours?.levelAt(t) !== 0) due += 60;
    offDueS += Math.max(0, due - startS);
    trips.push({
      warnedAt,
      trippedAt: end,
      backAt: isOver ? back : null,
      interruption: byOnset && onset - end <= rule.interruptionWithin * 60,
    });
    if (!isOver) break;
    startedAt = back;
    warnedAt = null;
  }
  return { trips, offS: isAfterHours && hours ? offDueS : offS, offDueS };
}

function met(value: bigint, op: string, threshold: bigint): boolean {
  if (op === "<") return value < threshold;
  if (op === "<=") return value <= threshold;
  return op === ">" ? value > threshold : value >= threshold;
}

/** A plain decimal in millionths, half-even, digit by digit. */
function micros(text: string): bigint {
  const [whole = "0", fraction = ""] = text.replace("-", "").split(".");
  const kept = BigInt(whole + fraction.slice(0, 6).padEnd(6, "0"));
  const rest = fraction.slice(6);
  const half = rest === "" ? -1 : rest[0] === "5" && /^50*$/.test(rest) ? 0 : (rest[0] as string) >= "5" ? 1 : -1;
  const rounded = half > 0 || (half === 0 && kept % 2n === 1n) ? kept + 1n : kept;
  return text.startsWith("-") ? -rounded : rounded;
}
