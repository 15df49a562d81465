import type { NextRequest } from "next/server";
import { paramsOf } from "@/app/burn-query";
import { findQueryOf } from "@/app/find-query";
import { person, services } from "@/app/services";
import { findResources } from "@/services";
import { answer } from "../answer";

export function GET(request: NextRequest): Promise<Response> {
  return answer(() => findResources(services(), person(), findQueryOf(paramsOf(request.nextUrl.searchParams), 12)));
}
