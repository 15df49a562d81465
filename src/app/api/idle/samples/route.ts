import { z } from "zod";
import { bytes, estate, route } from "@/app/http";
import { packSamples } from "@/core/idle";
import { fleetSamples, machineSamples } from "@/services/idle";

const METRICS_MAX = 20;
const SAID = `Expected 1 to ${METRICS_MAX} metrics.`;
const query = z.object({
  metric: z
    .union([z.string().transform((one) => [one]), z.array(z.string())], SAID)
    .refine(({ length }) => length <= METRICS_MAX, SAID),
  machine: z.string().optional(),
  selector: z.string().default(""),
});

/** The last four weeks of some metrics: of what a selector matches, or of one machine, as `packSamples` writes them. */
export const GET = route(
  "look",
  estate,
  { input: { query }, answer: bytes },
  async ({ services, actor, query: { metric: metrics, machine, selector } }) =>
    packSamples(
      machine === undefined
        ? await fleetSamples(services, actor, { selector, metrics })
        : await machineSamples(services, actor, { id: machine, metrics }),
    ),
);
