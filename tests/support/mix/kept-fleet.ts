import { present, type Unit, type World } from "../../../standin/world/types";
import { startTrusted, type Trusted } from "../trusted";
import { KEPT_PLAN } from "./kept-plan";

/** A world of one group, trusted to the rounds under `KEPT_PLAN` from an instant on. */
export const startKept = (at: number): Promise<Trusted> =>
  startTrusted(KEPT_PLAN, ["tiles"], {
    at,
    accounts: ["skerry-survey"],
    prepare: (world) => {
      world.units = world.units.filter(({ name }) => name === "viewer-tiles-north");
    },
  });

export const groupOf = ({ units }: World) => units.find(({ kind }) => kind === "group") as Unit;

/** The group's machines that are there, running or not. */
export const membersOf = ({ units }: World): Unit[] =>
  units.filter((unit) => unit.kind === "member" && present(unit).state !== "gone");

/** How many units of work machines are good for, by `KEPT_PLAN`. */
export const unitsOf = (machines: readonly Unit[]) => machines.reduce((sum, { size }) => sum + (size === "ketch-8" ? 2 : 1), 0);
