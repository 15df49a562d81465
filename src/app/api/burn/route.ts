import type { NextRequest } from "next/server";
import { asOne } from "@/app/as-one";
import { burnQueryOf, paramsOf } from "@/app/burn-query";
import { person, services } from "@/app/services";
import { burnPage } from "@/services";
import { answer } from "../answer";

export function GET(request: NextRequest): Promise<Response> {
  const asked = burnQueryOf(paramsOf(request.nextUrl.searchParams));
  return answer(() => asOne(`burn ${person().name} ${JSON.stringify(asked)}`, () => burnPage(services(), person(), asked)));
}
