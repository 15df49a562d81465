import fc from "fast-check";
import { expect, test } from "vitest";
import { aFleet, aMachine } from "../../../tests/support/make";
import { matcher, parseSelector } from "../selector";
import { claimer } from ".";

const team = fc.constantFrom("draughting", "tides", "viewer");
const clause = fc.oneof(
  team.map((name) => `team = ${name}`),
  fc.constantFrom(
    "has owner",
    "region = fjord-1",
    "region = tasman-2",
    "not has owner",
    "team != tides",
    "name ~ m*",
    "stage in (prod, test)",
  ),
);
const selector = fc
  .array(clause, { minLength: 1, maxLength: 3 })
  .chain((parts) => fc.constantFrom(parts.join(" and "), parts.join(" or "), `not (${parts.join(" or ")})`));
const machine = fc
  .record({ team: fc.option(team), owner: fc.option(fc.constant("m.skarv")), stage: fc.option(fc.constantFrom("prod", "test")) })
  .map((tags) =>
    aMachine({ tags: Object.fromEntries(Object.entries(tags).filter(([, value]) => value !== null)) as Record<string, string> }),
  );

test("looking fleets up by a necessary value finds the same one as trying all in rank order", () => {
  fc.assert(
    fc.property(
      fc.array(selector, { maxLength: 8 }),
      fc.array(machine, { minLength: 1, maxLength: 10 }),
      (selectors, machines) => {
        const fleets = selectors.map((select, i) => aFleet({ name: `f${i}`, select }));
        const claim = claimer(fleets);
        for (const one of machines) {
          const slow = fleets.find(({ select }) => matcher(parseSelector(select))(one)) ?? null;
          expect(claim(one)).toBe(slow);
        }
      },
    ),
    { numRuns: 300, seed: 39 },
  );
});
