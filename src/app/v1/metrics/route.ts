import { asItIs, estate, route } from "@/app/http";
import { receivePush } from "@/services/metrics";

export const dynamic = "force-dynamic";

/** Takes metrics in (OTLP/HTTP); the key in the request says from which source. */
export const POST = route("anyone", estate, { input: {}, answer: asItIs }, ({ services, request }) =>
  receivePush(services, request),
);
