import { z } from "zod";
import { answersWith, estate, route } from "@/app/http";
import { followLink } from "@/services/report";

const query = z.object({ token: z.string().default("") });

/** The signed token is all the right that is asked for; whoever holds the mail holds it. */
export const POST = route(
  "anyone",
  estate,
  { input: { query }, answer: answersWith<typeof followLink>() },
  ({ services, query: { token } }) => followLink(services, token, "confirm"),
);
