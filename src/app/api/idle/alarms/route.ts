import type { NextRequest } from "next/server";
import { person, services } from "@/app/services";
import { alarmsOf, RefusedError } from "@/services";
import { answer } from "../../answer";

/** Where the alarms of a fleet stand, which are blind and why, what changed last, and what is paused. */
export function GET(request: NextRequest): Promise<Response> {
  return answer(async () => {
    const fleet = request.nextUrl.searchParams.get("fleet");
    if (fleet === null) throw new RefusedError("invalid", "Expected a fleet.");
    return alarmsOf(services(), person(), { fleet });
  });
}
