import { z } from "zod";
import { answers, ofAccount, route } from "@/app/http";
import { believeListing } from "@/services/rounds";

const body = z.strictObject({ account: z.string().max(200), since: z.number().int() });

/** A person says that the doubted listing of an account is true. */
export const POST = route(
  "approve stops",
  ofAccount,
  { input: { body }, answer: answers(z.strictObject({ isBelieved: z.literal(true) })) },
  async ({ services, actor, body: asked }) => {
    await believeListing(services, actor, asked);
    return { isBelieved: true as const };
  },
);
