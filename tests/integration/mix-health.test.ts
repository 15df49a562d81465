import { afterAll, beforeAll, expect, test } from "vitest";
import { DEMO_ACTOR } from "@/services/admin";
import { mixStory } from "@/services/mix";
import { saveRecent } from "@/store";
import { present, type Unit } from "../../standin/world/types";
import { membersOf, startKept } from "../support/mix/kept-fleet";
import { within } from "../support/patience";
import type { Trusted } from "../support/trusted";

/** Members that a metric, pushed or pulled, calls unhealthy. */
let trusted: Trusted;
beforeAll(async () => {
  trusted = await startKept(Date.UTC(2027, 2, 16, 7) / 1000);
  await trusted.rounds(8);
}, within(120));
afterAll(() => trusted?.close());

test("a metric calls members unhealthy as a provider does: told of 0 for ten minutes one is replaced, one that is well in between is not", async () => {
  const { services, keeper } = trusted;
  const [ill, well] = membersOf(keeper.world).filter(({ purchase }) => purchase === "spot") as [Unit, Unit];
  const tells = (unit: Unit, value: number) =>
    saveRecent(services.pool, [
      { resourceId: `skerry-survey:${unit.id}`, metric: "health", at: keeper.now() - (keeper.now() % 60), stepS: 60, value },
    ]);
  for (let minute = 0; minute < 7; minute++) {
    await tells(ill, 0);
    // Every other minute it is well.
    await tells(well, minute % 2);
    await trusted.rounds(1);
  }
  expect(present(ill).state).not.toBe("gone");
  for (let minute = 0; minute < 6; minute++) {
    await tells(ill, 0);
    await tells(well, minute % 2);
    await trusted.rounds(1);
  }
  expect(present(ill).state).toBe("gone");
  expect(present(well).state).not.toBe("gone");
  const { lines } = await mixStory(services, DEMO_ACTOR, { fleet: "tiles", hours: 48 });
  expect(lines[0]).toMatchObject({ cause: "unhealthy", member: ill.name });
  expect(lines.some(({ member }) => member === well.name)).toBe(false);
});
