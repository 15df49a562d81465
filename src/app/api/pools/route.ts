import { person, services } from "@/app/services";
import { poolForecast } from "@/services";
import { answer } from "../answer";

/** What past sessions make of the pool that a fleet in force is. */
export function GET(request: Request): Promise<Response> {
  return answer(() => poolForecast(services(), person(), new URL(request.url).searchParams.get("fleet") ?? ""));
}
