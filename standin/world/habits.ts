import { chance } from "./chance";
import { instantOf, wallClock } from "./local";
import { type Change, DAY, HOUR } from "./types";

export type LifeInput = Readonly<{
  seed: number;
  name: string;
  habit: string;
  zone: string;
  level: number;
  from: number;
  to: number;
  odd?: Readonly<{ state?: "halted"; runsForDays?: number }> | undefined;
}>;

/** How a unit lived in the days before the demo begins: the changes in `[from, to]`, oldest first. */
export function lifeOf(input: LifeInput): Change[] {
  const { from, to, odd, level } = input;
  if (odd?.runsForDays) return [{ at: to - odd.runsForDays * DAY - 7 * HOUR, state: "running", level: 1 }];
  if (odd?.state === "halted") {
    return [
      { at: from, state: "running", level: 1 },
      { at: to - Math.round(chance(input.seed, input.name, "halted") * 9 * DAY) - DAY, state: "halted", level: 0 },
    ];
  }
  switch (input.habit) {
    case "desk":
      return onOff(input, deskDays(input));
    case "class":
      return onOff(input, classDays(input));
    case "trial":
      return onOff(input, trials(input));
    case "left on":
      return [{ at: from - Math.round(chance(input.seed, input.name, "since") * 60 * DAY), state: "running", level }];
    default:
      return [{ at: from - Math.round(chance(input.seed, input.name, "since") * 200 * DAY), state: "running", level }];
  }
}

type OnSpan = { on: number; off: number };

function onOff({ from, to }: LifeInput, spans: OnSpan[]): Change[] {
  const life: Change[] = [{ at: from, state: "stopped", level: 0 }];
  let end = from;
  for (const { on, off } of spans) {
    const start = Math.max(on, end + 60);
    if (start >= to || off <= start) continue;
    life.push({ at: start, state: "running", level: 1 });
    if (off >= to) break;
    life.push({ at: off, state: "stopped", level: 0 });
    end = off;
  }
  return life;
}

/** On from about eight; off at about six, or left on overnight, or over the weekend, by each person's own habit. */
function deskDays({ seed, name, zone, from, to }: LifeInput): OnSpan[] {
  const spans: OnSpan[] = [];
  const forgets = 0.35 + 0.6 * chance(seed, name, "forgets");
  const last = wallClock(zone, to).day;
  for (let day = wallClock(zone, from).day; day <= last; day++) {
    const weekday = (((day + 3) % 7) + 7) % 7;
    if (weekday > 4 && chance(seed, name, "weekend", day) > 0.06) continue;
    if (chance(seed, name, "away", day) < 0.08) continue;
    const on = instantOf(zone, day, 7.2 + 1.6 * chance(seed, name, "on", day));
    let offDay = day;
    while (chance(seed, name, "forgot", offDay) < forgets && offDay < day + 6) offDay++;
    const off = instantOf(zone, offDay, 16.2 + 3.2 * chance(seed, name, "off", offDay));
    spans.push({ on, off: Math.max(off, on + HOUR) });
    day = offDay;
  }
  return spans;
}

/** Saturday mornings; now and then a box stays on for days. */
function classDays({ seed, name, zone, from, to }: LifeInput): OnSpan[] {
  const spans: OnSpan[] = [];
  const last = wallClock(zone, to).day;
  for (let day = wallClock(zone, from).day; day <= last; day++) {
    const weekday = (((day + 3) % 7) + 7) % 7;
    if (weekday !== 5) continue;
    const isForgotten = chance(seed, name, "forgot", day) < 0.4;
    spans.push({ on: instantOf(zone, day, 8.6), off: instantOf(zone, day + (isForgotten ? 5 : 0), 13.5) });
  }
  return spans;
}

/** Started for a trial of a few hours up to many days; most are forgotten for a while. */
function trials({ seed, name, zone, from, to }: LifeInput): OnSpan[] {
  const spans: OnSpan[] = [];
  let day = wallClock(zone, from).day + Math.floor(chance(seed, name, "first") * 4);
  const last = wallClock(zone, to).day;
  for (let n = 0; day <= last; n++) {
    const on = instantOf(zone, day, 8 + 9 * chance(seed, name, "hour", n));
    const hours = 2 + 220 * chance(seed, name, "long", n) ** 2;
    spans.push({ on, off: on + Math.round(hours * HOUR) });
    day += Math.ceil(hours / 24) + Math.floor(chance(seed, name, "pause", n) * 5) + 1;
  }
  return spans;
}
