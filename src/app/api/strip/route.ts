import type { NextRequest } from "next/server";
import { instantOf, paramsOf, viewOf } from "@/app/burn-query";
import { person, services } from "@/app/services";
import { timeStrip } from "@/services";
import { answer } from "../answer";

export const dynamic = "force-dynamic";

export function GET(request: NextRequest): Promise<Response> {
  const params = paramsOf(request.nextUrl.searchParams);
  return answer(() => timeStrip(services(), person(), { at: instantOf(params), view: viewOf(params) }));
}
