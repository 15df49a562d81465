import { z } from "zod";
import { answers, estate, route } from "@/app/http";
import { recordsFrom } from "@/services/inventory";

export const dynamic = "force-dynamic";

/** When records begin. */
export const GET = route(
  "look",
  estate,
  { input: {}, answer: answers(z.strictObject({ from: z.number().nullable() })) },
  async ({ services, actor }) => ({ from: await recordsFrom(services, actor) }),
);
