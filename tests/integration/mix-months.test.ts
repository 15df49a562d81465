import { expect, test } from "vitest";
import { heldShare, monthsOf, WHAT } from "../support/mix/foretold";
import { within } from "../support/patience";

/** The bench tries sixty worlds, after each length of history for itself. */
const WORLDS = 10;

test(
  "of months foretold after one, four and twelve weeks 90 % intervals hold what came, and what came lies on both sides",
  () => {
    const months = Array.from({ length: WORLDS }, (_, i) => monthsOf(1000 + i)).flat();
    for (const what of WHAT) {
      const { held, above, words } = heldShare(months.filter((one) => one.what === what));
      console.log(`mix, months of ${what}: ${words}`);
      expect.soft(held, what).toBeGreaterThanOrEqual(0.82);
      expect.soft(above, what).toBeGreaterThan(0.25);
      expect.soft(above, what).toBeLessThan(0.75);
    }
  },
  within(240),
);
