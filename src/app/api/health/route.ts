import { asItIs, estate, route } from "@/app/http";
import { isAnswering, readClock } from "@/services";

export const dynamic = "force-dynamic";

export const GET = route("look", estate, { input: {}, answer: asItIs }, async ({ services, actor }) => {
  await isAnswering(services, actor);
  return Response.json({ ok: true, ...(await readClock(services, actor)) });
});
