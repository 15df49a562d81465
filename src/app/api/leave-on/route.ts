import { z } from "zod";
import { answersWith, estate, route } from "@/app/http";
import { followLeaveOn, viewLeaveOn } from "@/services/idle";

const query = z.object({ token: z.string().default("") });

/** What a press would do; it changes nothing. */
export const GET = route(
  "anyone",
  estate,
  { input: { query }, answer: answersWith<typeof viewLeaveOn>() },
  ({ services, query: { token } }) => viewLeaveOn(services, token),
);

/** Leaves the machine on. The signed token is all the right that is asked for; whoever holds the mail holds it. */
export const POST = route(
  "anyone",
  estate,
  { input: { query }, answer: answersWith<typeof followLeaveOn>() },
  ({ services, query: { token } }) => followLeaveOn(services, token),
);
