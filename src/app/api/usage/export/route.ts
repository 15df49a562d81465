import type { NextRequest } from "next/server";
import { person, services } from "@/app/services";
import { exportFocus } from "@/services";
import { streamed } from "../../answer";

export function GET(request: NextRequest): Promise<Response> {
  const { searchParams: params } = request.nextUrl;
  const [from, to] = [params.get("from") ?? "", params.get("to") ?? ""];
  const importId = /^\d{1,9}$/.test(params.get("import") ?? "") ? Number(params.get("import")) : 0;
  return streamed(`focus-${from}-${to}.csv`, exportFocus(services(), person(), { from, to, importId }));
}
