import type { NextRequest } from "next/server";
import { instantOf, paramsOf } from "@/app/burn-query";
import { person, services } from "@/app/services";
import { strayPage } from "@/services";
import { answer } from "../answer";

export function GET(request: NextRequest): Promise<Response> {
  return answer(() => strayPage(services(), person(), instantOf(paramsOf(request.nextUrl.searchParams))));
}
