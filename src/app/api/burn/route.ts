import type { NextRequest } from "next/server";
import { burnQueryOf, paramsOf } from "@/app/burn-query";
import { person, services } from "@/app/services";
import { burnPage } from "@/services";
import { answer } from "../answer";

export function GET(request: NextRequest): Promise<Response> {
  return answer(() => burnPage(services(), person(), burnQueryOf(paramsOf(request.nextUrl.searchParams))));
}
