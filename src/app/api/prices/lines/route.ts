import { person, services } from "@/app/services";
import { priceLines } from "@/services";
import { answer } from "../../answer";

/** What was said of one price, page by page. */
export function GET(request: Request): Promise<Response> {
  const params = new URL(request.url).searchParams;
  const before = params.get("before");
  return answer(() =>
    priceLines(services(), person(), { key: params.get("key") ?? "", before: before === null ? null : Number(before) }),
  );
}
