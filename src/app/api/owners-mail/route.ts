import { z } from "zod";
import { answers, estate, route } from "@/app/http";
import { setOwnersMail } from "@/services/idle";

const owners = z.strictObject({ tag: z.string().max(200), domain: z.string().max(200) });

/** How owners' tags become addresses. */
export const PUT = route(
  "set up",
  estate,
  { input: { body: owners }, answer: answers(owners) },
  async ({ services, actor, body }) => {
    await setOwnersMail(services, actor, body);
    return body;
  },
);
