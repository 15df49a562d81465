import { asItIs, estate, route } from "@/app/http";
import { OPEN_METRICS } from "@/core/open-metrics";
import { log } from "@/log";
import { metricsText } from "@/services/admin";

export const dynamic = "force-dynamic";

/** What a monitor reads: OpenMetrics text. */
export const GET = route("look", estate, { input: {}, answer: asItIs }, async ({ services, actor }) => {
  try {
    return new Response(await metricsText(services, actor), { headers: { "content-type": OPEN_METRICS } });
  } catch (error) {
    log.error({ err: error }, "metrics could not be read");
    return new Response("the database does not answer\n", { status: 503 });
  }
});
