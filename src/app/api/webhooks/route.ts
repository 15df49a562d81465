import { z } from "zod";
import { person, services } from "@/app/services";
import { makeWebhook, webhooks } from "@/services";
import { answer, readBody } from "../answer";

const bodySchema = z.strictObject({ url: z.string().max(4000) });

export function GET(): Promise<Response> {
  return answer(() => webhooks(services(), person()));
}

/** Sets a webhook up; answers with its secret, this once. */
export function POST(request: Request): Promise<Response> {
  return answer(async () => makeWebhook(services(), person(), (await readBody(request, bodySchema)).url));
}
