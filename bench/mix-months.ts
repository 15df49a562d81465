import { HISTORIES, heldShare, monthsOf, WHAT } from "../tests/support/mix/foretold";
import { report } from "./measure";

const WORLDS = 60;
/** No world that the priors were chosen by: those of the test begin at 1000. */
const FIRST_SEED = 5_000;
/** Of what a 90 % interval is to hold. */
const [LEAST, MOST] = [0.82, 0.97];

/** What is foretold of a mix, from what its keeper has seen, held to what came: no time, but too long for the tests. */
export function benchMixMonths(): void {
  const months = Array.from({ length: WORLDS }, (_, i) => monthsOf(FIRST_SEED + i)).flat();
  for (const what of WHAT)
    for (const history of HISTORIES) {
      const { held, words } = heldShare(months.filter((one) => one.what === what && one.history === history));
      report({
        name: `months of a mix foretold after ${history} days: ${what}`,
        figure: words,
        target: `${100 * LEAST} to ${100 * MOST} %`,
        isMet: held >= LEAST && held <= MOST,
        yardstick: "what came",
      });
    }
}
