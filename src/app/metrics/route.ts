import { OPEN_METRICS } from "@/core/open-metrics";
import { metricsText } from "@/services";
import { person, services } from "../services";

export const dynamic = "force-dynamic";

/** What a monitor reads: OpenMetrics text. */
export async function GET(): Promise<Response> {
  try {
    return new Response(await metricsText(services(), person()), { headers: { "content-type": OPEN_METRICS } });
  } catch (error) {
    console.error(error);
    return new Response("the database does not answer\n", { status: 503 });
  }
}
