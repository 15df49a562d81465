import { person, services } from "@/app/services";
import { mixStory } from "@/services";
import { answer } from "../../answer";

const HOURS = 28 * 24;

/** What a fleet's mix has now, and what it lost over the last four weeks. */
export function GET(request: Request): Promise<Response> {
  const fleet = new URL(request.url).searchParams.get("fleet") ?? "";
  return answer(() => mixStory(services(), person(), { fleet, hours: HOURS }));
}
