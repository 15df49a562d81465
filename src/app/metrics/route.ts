import { OPEN_METRICS } from "@/core/open-metrics";
import { log } from "@/log";
import { metricsText } from "@/services";
import { person, services } from "../services";

export const dynamic = "force-dynamic";

/** What a monitor reads: OpenMetrics text. */
export async function GET(): Promise<Response> {
  try {
    return new Response(await metricsText(services(), person()), { headers: { "content-type": OPEN_METRICS } });
  } catch (error) {
    log.error({ err: error }, "metrics could not be read");
    return new Response("the database does not answer\n", { status: 503 });
  }
}
