import { z } from "zod";
import { person, services } from "@/app/services";
import { importPrices, pricesCsv } from "@/services";
import { answer, asText, readBody } from "../../answer";

const bodySchema = z.strictObject({ text: z.string(), isTrial: z.boolean().optional() });

export function GET(): Promise<Response> {
  return asText("text/csv; charset=utf-8", () => pricesCsv(services(), person(), null));
}

export function POST(request: Request): Promise<Response> {
  return answer(async () => importPrices(services(), person(), await readBody(request, bodySchema)));
}
