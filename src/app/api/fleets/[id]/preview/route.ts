import { z } from "zod";
import { person, services } from "@/app/services";
import { fleetDraftSchema } from "@/core/plan";
import { previewInForce } from "@/services";
import { answer, readBody } from "../../../answer";

const bodySchema = z.strictObject({ draft: fleetDraftSchema });

export function POST(request: Request): Promise<Response> {
  return answer(async () => previewInForce(services(), person(), (await readBody(request, bodySchema)).draft));
}
