import rrule from "rrule";
import { compileSchedule, expand, scheduleSchema } from "@/core/hours";
import { DAY_S } from "@/core/time";
import { medianMs, report } from "./measure";

const { RRule } = rrule;
const FROM = Date.UTC(2027, 0, 1) / 1000;
const YEAR_S = 365 * DAY_S;
const SCHEDULE = scheduleSchema.parse({
  name: "office",
  zone: "Europe/Oslo",
  rows: [{ day: "workdays", spans: ["07:30-18:00"] }],
});

/** Both ends of every working day of a year, by rules of RFC 5545 with the same zone. */
function byRules(): number {
  const at = (hour: number, minute: number) =>
    new RRule(
      {
        freq: RRule.WEEKLY,
        byweekday: [RRule.MO, RRule.TU, RRule.WE, RRule.TH, RRule.FR],
        dtstart: new Date(Date.UTC(2027, 0, 1, hour, minute)),
        tzid: "Europe/Oslo",
      },
      true,
    ).between(new Date(FROM * 1000), new Date((FROM + YEAR_S) * 1000));
  return at(7, 30).length + at(18, 0).length;
}

/** `expand` of one schedule over a year, from its compiling on, beside the rrule package. */
export function benchHours(): void {
  const ours = () => expand(compileSchedule(SCHEDULE), FROM, FROM + YEAR_S).filter(({ from }) => from > FROM).length;
  if (ours() !== byRules()) throw new Error(`not the same edges: ${ours()} and ${byRules()}`);
  const oursMs = medianMs(ours, 51);
  const rulesMs = medianMs(byRules, 15);
  const ratio = rulesMs / oursMs;
  report({
    name: "expand of one schedule over a year",
    figure: `${ratio.toFixed(0)} times faster, ${oursMs.toFixed(3)} ms`,
    target: "at least 20 times",
    isMet: ratio >= 20,
    yardstick: `rrule on the same pattern and zone, ${rulesMs.toFixed(2)} ms`,
  });
}
