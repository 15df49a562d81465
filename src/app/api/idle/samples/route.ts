import type { NextRequest } from "next/server";
import { person, services } from "@/app/services";
import { packSamples } from "@/core/idle";
import { fleetSamples, machineSamples, RefusedError } from "@/services";
import { asBytes } from "../../answer";

const METRICS_MAX = 20;

/** The last four weeks of some metrics: of what a selector matches, or of one machine, as `packSamples` writes them. */
export function GET(request: NextRequest): Promise<Response> {
  return asBytes(async () => {
    const { searchParams } = request.nextUrl;
    const metrics = searchParams.getAll("metric");
    if (metrics.length === 0 || metrics.length > METRICS_MAX)
      throw new RefusedError("invalid", `Expected 1 to ${METRICS_MAX} metrics.`);
    const machine = searchParams.get("machine");
    const samples =
      machine === null
        ? await fleetSamples(services(), person(), { selector: searchParams.get("selector") ?? "", metrics })
        : await machineSamples(services(), person(), { id: machine, metrics });
    return packSamples(samples);
  });
}
