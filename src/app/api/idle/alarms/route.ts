import type { NextRequest } from "next/server";
import { person, services } from "@/app/services";
import { alarmsOf, RefusedError } from "@/services";
import { answer } from "../../answer";

/** Where the alarms of a fleet or a machine stand, which are blind and why, what changed last, and what is paused. */
export function GET(request: NextRequest): Promise<Response> {
  return answer(async () => {
    const { searchParams } = request.nextUrl;
    const [fleet, resourceId] = [searchParams.get("fleet"), searchParams.get("machine")];
    if (resourceId !== null) return alarmsOf(services(), person(), { resourceId });
    if (fleet === null) throw new RefusedError("invalid", "Expected a fleet or a machine.");
    return alarmsOf(services(), person(), { fleet });
  });
}
