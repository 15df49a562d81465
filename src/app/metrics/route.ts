import { asItIs, estate, route } from "@/app/http";
import { OPEN_METRICS, PROMETHEUS_TEXT } from "@/core/open-metrics";
import { log } from "@/log";
import { metricsText } from "@/services/admin";

export const dynamic = "force-dynamic";

/** What a monitor reads: OpenMetrics text where it accepts that, the older format of Prometheus otherwise. */
export const GET = route("look", estate, { input: {}, answer: asItIs }, async ({ services, actor, request }) => {
  const isOpen = request.headers.get("accept")?.toLowerCase().includes("application/openmetrics-text") ?? false;
  try {
    return new Response(await metricsText(services, actor, isOpen ? "openmetrics" : "prometheus"), {
      headers: { "content-type": isOpen ? OPEN_METRICS : PROMETHEUS_TEXT, vary: "accept" },
    });
  } catch (error) {
    log.error({ err: error }, "metrics could not be read");
    return new Response("the database does not answer\n", { status: 503 });
  }
});
