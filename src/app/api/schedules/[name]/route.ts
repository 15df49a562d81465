import { z } from "zod";
import { answers, byName, estate, noBody, route, textFile } from "@/app/http";
import { removeSchedule, scheduleIcs } from "@/services/plans";

const query = z.object({ zone: z.string().nullable().default(null) });

/** `NAME.ics`: the schedule as a calendar that programs subscribe to, with `?zone=Z` where it has no zone of its own. */
export const GET = route(
  "look",
  estate,
  { input: { params: byName, query }, answer: textFile("text/calendar; charset=utf-8") },
  async ({ services, actor, params: { name }, query: { zone } }) => ({
    file: name,
    text: await scheduleIcs(services, actor, { name: name.replace(/\.ics$/, ""), zone }),
  }),
);

export const DELETE = route(
  "edit plans",
  estate,
  { input: { params: byName, body: noBody }, answer: answers(z.strictObject({ removed: z.literal(true) })) },
  async ({ services, actor, params }) => {
    await removeSchedule(services, actor, params.name);
    return { removed: true as const };
  },
);
