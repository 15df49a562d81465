import { z } from "zod";
import { answers, byId, estate, route } from "@/app/http";
import { renewSecret } from "@/services/notify";

/** A new secret in place of the one before; answers with it, this once. */
export const POST = route(
  "set up",
  estate,
  { input: { params: byId }, answer: answers(z.strictObject({ secret: z.string() })) },
  async ({ services, actor, params }) => ({ secret: await renewSecret(services, actor, params.id) }),
);
