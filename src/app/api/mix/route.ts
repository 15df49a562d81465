import { person, services } from "@/app/services";
import { mixOffers } from "@/services";
import { answer } from "../answer";

/** Where the capacity of what a selector matches could come from, at which prices and dangers. */
export function GET(request: Request): Promise<Response> {
  return answer(() => mixOffers(services(), person(), new URL(request.url).searchParams.get("select") ?? ""));
}
