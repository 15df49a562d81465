import { z } from "zod";
import { answers, answersWith, checked, estate, nameSchema, route } from "@/app/http";
import { RefusedError } from "@/services/admin";
import { imports, receiveImport } from "@/services/usage";

export const GET = route("look", estate, { input: {}, answer: answersWith<typeof imports>() }, ({ services, actor }) =>
  imports(services, actor),
);

/** Takes a CSV file in as it comes; its name stands in the header `x-file-name`, percent-encoded. */
export const POST = route(
  "import",
  estate,
  { input: {}, answer: answers(z.strictObject({ id: z.number().int() })) },
  async ({ services, actor, request }) => {
    if (!request.headers.get("content-type")?.startsWith("text/csv")) throw new RefusedError("invalid", "Expected text/csv.");
    if (!request.body) throw new RefusedError("invalid", "The file is empty.");
    const fileName = checked(nameSchema, request.headers.get("x-file-name") ?? "usage.csv");
    const bytes = request.body as unknown as AsyncIterable<Uint8Array>;
    return { id: await receiveImport(services, actor, { fileName, bytes }) };
  },
);
