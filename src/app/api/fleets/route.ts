import { z } from "zod";
import { answers, estate, route } from "@/app/http";
import { createFleet } from "@/services/plans";

const body = z.strictObject({ name: z.string().max(200), select: z.string().max(4000) });

export const POST = route(
  "edit plans",
  estate,
  { input: { body }, answer: answers(z.strictObject({ id: z.number().int() })) },
  async ({ services, actor, body: asked }) => ({ id: await createFleet(services, actor, asked) }),
);
