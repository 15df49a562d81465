import { z } from "zod";
import { csvStream, estate, route } from "@/app/http";
import { exportFocus } from "@/services/usage";

const query = z.object({
  from: z.string().default(""),
  to: z.string().default(""),
  /** One import by its number; 0 for what providers told. */
  import: z
    .string()
    .regex(/^\d{1,9}$/)
    .transform(Number)
    .catch(0),
});

export const GET = route(
  "look",
  estate,
  { input: { query }, answer: csvStream },
  ({ services, actor, query: { from, to, import: importId } }) => ({
    file: `focus-${from}-${to}.csv`,
    pieces: exportFocus(services, actor, { from, to, importId }),
  }),
);
