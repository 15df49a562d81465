import { z } from "zod";
import { person, services } from "@/app/services";
import { moveClock, readClock } from "@/services";
import { answer, readBody } from "../answer";

export const dynamic = "force-dynamic";

const bodySchema = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("rate"), rate: z.union([z.literal(0), z.literal(1), z.literal(60), z.literal(3600)]) }),
  z.strictObject({ kind: z.literal("next edge") }),
  z.strictObject({ kind: z.literal("to"), to: z.number().int() }),
]);

export function GET(): Promise<Response> {
  return answer(() => readClock(services(), person()));
}

export function POST(request: Request): Promise<Response> {
  return answer(async () => moveClock(services(), person(), await readBody(request, bodySchema)));
}
