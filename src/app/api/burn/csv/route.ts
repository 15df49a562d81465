import type { NextRequest } from "next/server";
import { burnQueryOf, paramsOf } from "@/app/burn-query";
import { person, services } from "@/app/services";
import { burnCsv } from "@/services";
import { asText } from "../../answer";

export function GET(request: NextRequest): Promise<Response> {
  return asText("text/csv; charset=utf-8", () =>
    burnCsv(services(), person(), burnQueryOf(paramsOf(request.nextUrl.searchParams))),
  );
}
