import { services } from "@/app/services";
import { receivePush } from "@/services";

export const dynamic = "force-dynamic";

/** Takes metrics in (OTLP/HTTP); the key in the request says from which source. */
export function POST(request: Request): Promise<Response> {
  return receivePush(services(), request);
}
