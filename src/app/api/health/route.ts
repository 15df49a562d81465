import { asItIs, estate, route } from "@/app/http";
import { isAnswering } from "@/services/admin";
import { readClock } from "@/services/rounds";

export const dynamic = "force-dynamic";

export const GET = route("look", estate, { input: {}, answer: asItIs }, async ({ services, actor }) => {
  await isAnswering(services, actor);
  return Response.json({ ok: true, ...(await readClock(services, actor)) });
});
