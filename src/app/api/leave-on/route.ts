import type { NextRequest } from "next/server";
import { services } from "@/app/services";
import { followLeaveOn, viewLeaveOn } from "@/services";
import { answer } from "../answer";

const tokenOf = (request: NextRequest) => request.nextUrl.searchParams.get("token") ?? "";

/** What a press would do; it changes nothing. */
export function GET(request: NextRequest): Promise<Response> {
  return answer(() => viewLeaveOn(services(), tokenOf(request)));
}

/** Leaves the machine on. The signed token is all the right that is asked for; whoever holds the mail holds it. */
export function POST(request: NextRequest): Promise<Response> {
  return answer(() => followLeaveOn(services(), tokenOf(request)));
}
