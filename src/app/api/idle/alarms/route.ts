import { z } from "zod";
import { answersWith, route } from "@/app/http";
import { alarmsOf } from "@/services/idle";

const query = z
  .object({ fleet: z.string().optional(), machine: z.string().optional() })
  .refine(({ fleet, machine }) => fleet !== undefined || machine !== undefined, "Expected a fleet or a machine.");

/** Where the alarms of a fleet or a machine stand, which are blind and why, what changed last, and what is paused. */
export const GET = route(
  "look",
  ({ query: { fleet, machine } }) =>
    machine !== undefined ? { kind: "resource", id: machine, fleet: null } : { kind: "fleet", fleet: fleet ?? "" },
  { input: { query }, answer: answersWith<typeof alarmsOf>() },
  ({ services, actor, query: { fleet, machine } }) =>
    alarmsOf(services, actor, machine !== undefined ? { resourceId: machine } : { fleet: fleet ?? "" }),
);
