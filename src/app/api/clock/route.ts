import { z } from "zod";
import { answersWith, estate, route } from "@/app/http";
import { moveClock, readClock } from "@/services/rounds";

export const dynamic = "force-dynamic";

const body = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("rate"), rate: z.union([z.literal(0), z.literal(1), z.literal(60), z.literal(3600)]) }),
  z.strictObject({ kind: z.literal("next edge") }),
  z.strictObject({ kind: z.literal("to"), to: z.number().int() }),
]);

export const GET = route("look", estate, { input: {}, answer: answersWith<typeof readClock>() }, ({ services, actor }) =>
  readClock(services, actor),
);

export const POST = route(
  "move the clock",
  estate,
  { input: { body }, answer: answersWith<typeof moveClock>() },
  ({ services, actor, body: asked }) => moveClock(services, actor, asked),
);
