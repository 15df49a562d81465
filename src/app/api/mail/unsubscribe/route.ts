import type { NextRequest } from "next/server";
import { services } from "@/app/services";
import { followLink } from "@/services";
import { answer } from "../../answer";

/** The signed token is all the right that is asked for; whoever holds the mail holds it. */
export function POST(request: NextRequest): Promise<Response> {
  return answer(() => followLink(services(), request.nextUrl.searchParams.get("token") ?? "", "unsubscribe"));
}
