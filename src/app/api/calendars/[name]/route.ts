import { z } from "zod";
import { answers, byName, estate, route } from "@/app/http";
import { removeCalendar } from "@/services/plans";

export const DELETE = route(
  "edit plans",
  estate,
  {
    input: { params: byName, body: z.strictObject({ version: z.number().int() }) },
    answer: answers(z.strictObject({ removed: z.literal(true) })),
  },
  async ({ services, actor, params, body }) => {
    await removeCalendar(services, actor, params.name, body.version);
    return { removed: true as const };
  },
);
