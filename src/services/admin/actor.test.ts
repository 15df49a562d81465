import { expect, test } from "vitest";
import {
  type Actor,
  authorise,
  DEMO_ACTOR,
  ESTATE,
  METRIC_SOURCE,
  NotAllowedError,
  type Right,
  visibleTo,
  WORKER,
} from "./actor";

const may = (actor: Actor, right: Right, on = ESTATE as Parameters<typeof authorise>[2]) => {
  try {
    authorise(actor, right, on);
    return true;
  } catch (error) {
    if (error instanceof NotAllowedError) return false;
    throw error;
  }
};

test("the worker works and looks, and never changes a plan; a person asks for rounds and does not do its work", () => {
  expect(may(WORKER, "work")).toBe(true);
  expect(may(WORKER, "put in force")).toBe(false);
  expect(() => authorise(WORKER, "edit plans", ESTATE)).toThrow("worker may not edit plans.");
  expect(may(DEMO_ACTOR, "ask for rounds")).toBe(true);
  expect(may(DEMO_ACTOR, "move the clock")).toBe(true);
  expect(may(DEMO_ACTOR, "work")).toBe(false);
  expect(may(METRIC_SOURCE, "tell metrics")).toBe(true);
  expect(may(METRIC_SOURCE, "look")).toBe(false);
});

test("a right that is limited reaches what it names, and looks at a part of the estate", () => {
  const reach = { fleets: ["desks", 7], accounts: ["south"] };
  const actor: Actor = {
    name: "some one",
    grants: [
      { right: "look", reach },
      { right: "hold", reach },
    ],
  };
  expect(may(actor, "look")).toBe(true);
  expect(may(actor, "hold")).toBe(false);
  expect(may(actor, "hold", { kind: "fleet", fleet: "desks" })).toBe(true);
  expect(may(actor, "hold", { kind: "fleet", fleet: 7 })).toBe(true);
  expect(may(actor, "hold", { kind: "fleet", fleet: "tides" })).toBe(false);
  expect(may(actor, "hold", { kind: "account", account: "south" })).toBe(true);
  expect(may(actor, "hold", { kind: "resource", id: "south:vm-1", fleet: null })).toBe(true);
  expect(may(actor, "hold", { kind: "resource", id: "southern:vm-1", fleet: null })).toBe(false);
  expect(may(actor, "hold", { kind: "resource", id: "north:vm-1", fleet: "desks" })).toBe(true);
  expect(may(actor, "stop", { kind: "fleet", fleet: "desks" })).toBe(false);
  const visible = visibleTo(actor);
  expect(visible.isAll).toBe(false);
  expect([visible.account("south"), visible.account("north")]).toEqual([true, false]);
  expect([
    visible.fleet({ id: 7, name: "x" }),
    visible.fleet({ id: 8, name: "desks" }),
    visible.fleet({ id: 9, name: "y" }),
  ]).toEqual([true, true, false]);
  expect(visible.resource({ id: "north:vm-1", fleet: null })).toBe(false);
  expect(visible.resource({ id: "north:vm-1", fleet: "desks" })).toBe(true);
});

test("who sees everything sees what nobody named; who has no right to look sees nothing", () => {
  expect(visibleTo(DEMO_ACTOR).isAll).toBe(true);
  const none = visibleTo(METRIC_SOURCE);
  expect([none.isAll, none.account("a"), none.fleet({ id: 1, name: "f" }), none.resource({ id: "a:1", fleet: "f" })]).toEqual([
    false,
    false,
    false,
    false,
  ]);
});
