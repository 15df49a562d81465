import { FROM, type PromisedWeeks, promisedWeeks } from "../tests/support/promised-weeks";
import { report } from "./measure";

const PER_UNIT = 2.628e15;
/** What was told of longer than this rests on people who do as in the weeks before. */
const LONG_S = 3 * 86_400;

/** A table of what pages promised and what came, by fleet and lever, over the demo's month. */
export async function benchPromises(): Promise<void> {
  const { told, unlike, days } = await promisedWeeks(FROM.first);
  for (const part of new Set(told.map((one) => one.part))) {
    const own = told.filter((one) => one.part === part && one.to - one.from > LONG_S);
    const off = own.map(({ told: promised, came }) => promised / came - 1);
    const most = Math.max(...off.map(Math.abs));
    report({
      name: `promised until the month's end at ${own.length} instants: ${part}`,
      figure: own
        .map(
          ({ told: promised, came }, i) => `${promised.toFixed(0)} / ${came.toFixed(0)} (${(100 * (off[i] ?? 0)).toFixed(1)} %)`,
        )
        .join(", "),
      target: "5 % at most",
      isMet: most <= 0.05,
      yardstick: "what the meter says came",
    });
  }
  for (const [lever, own] of leversOf(days)) {
    const sum = (of: (one: PromisedWeeks["days"][number]) => bigint) =>
      Number(own.reduce((total, one) => total + of(one), 0n)) / PER_UNIT;
    const held = own.filter(({ saved, forecast }) => forecast && saved >= forecast.p5 && saved <= forecast.p95).length;
    report({
      name: `saved by the day: ${lever}`,
      figure: `${sum(({ forecast }) => forecast?.p50 ?? 0n).toFixed(0)} promised, ${sum(({ saved }) => saved).toFixed(0)} realised; ${held} of ${own.length} days within the 90 % interval`,
      target: "82 % at least",
      isMet: held >= 0.82 * own.length,
      yardstick: "realised savings",
    });
  }
  report({
    name: "pages that tell the same time to come otherwise",
    figure: unlike.length === 0 ? "none" : unlike.join("; "),
    target: "none",
    isMet: unlike.length === 0,
    yardstick: "each other, to the cent",
  });
}

/** Of levers whose day nobody knows before. */
function leversOf(days: PromisedWeeks["days"]): ReadonlyMap<string, PromisedWeeks["days"]> {
  const open = days.filter(({ forecast }) => forecast && forecast.p5 !== forecast.p95);
  const names = [...new Set(open.map(({ fleet, lever }) => `${fleet}, ${lever}`))];
  return new Map(names.map((name) => [name, open.filter(({ fleet, lever }) => `${fleet}, ${lever}` === name)]));
}
