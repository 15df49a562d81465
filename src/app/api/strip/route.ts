import type { NextRequest } from "next/server";
import { instantOf, paramsOf } from "@/app/burn-query";
import { person, services } from "@/app/services";
import { timeStrip } from "@/services";
import { answer } from "../answer";

export const dynamic = "force-dynamic";

export function GET(request: NextRequest): Promise<Response> {
  return answer(() => timeStrip(services(), person(), instantOf(paramsOf(request.nextUrl.searchParams))));
}
