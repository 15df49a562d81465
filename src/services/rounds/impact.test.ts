import { expect, test } from "vitest";
import type { Schedule } from "@/core/hours";
import type { Snapshot } from "../inventory";
import { changedSnapshot } from "./impact";

test("a changed snapshot has the new schedules and calendars, and the others as they were", () => {
  const snapshot = { schedules: [{ name: "a" }, { name: "b" }], calendars: [{ name: "c" }] } as unknown as Snapshot;
  const schedule = { name: "b", zone: "UTC" } as Schedule;
  const changed = changedSnapshot(snapshot, { schedules: [schedule], calendars: [] });
  expect(changed.schedules).toEqual([{ name: "a" }, schedule]);
  expect(changed.calendars).toEqual(snapshot.calendars);
});
