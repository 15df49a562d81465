import type { NextRequest } from "next/server";
import { instantOf, paramsOf } from "@/app/burn-query";
import { person, services } from "@/app/services";
import { isZone } from "@/core/time";
import { previewReport } from "@/services";
import { answer } from "../../answer";

export function GET(request: NextRequest): Promise<Response> {
  const { searchParams: params } = request.nextUrl;
  const zone = params.get("zone") ?? "UTC";
  const name = (params.get("name") ?? "").slice(0, 80);
  return answer(() =>
    previewReport(services(), person(), {
      name,
      at: instantOf(paramsOf(params)),
      zone: isZone(zone) ? zone : "UTC",
      scope: (params.get("scope") ?? "").slice(0, 4000),
    }),
  );
}
