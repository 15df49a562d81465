import { asItIs, estate, route } from "@/app/http";
import { log } from "@/log";
import { readiness } from "@/services/admin";

export const dynamic = "force-dynamic";

/** 200 where the whole does its work, 503 with the reason where it does not. */
export const GET = route("look", estate, { input: {}, answer: asItIs }, async ({ services, actor }) => {
  try {
    const ready = await readiness(services, actor);
    return Response.json(ready, { status: ready.isReady ? 200 : 503 });
  } catch (error) {
    log.error({ err: error }, "not ready");
    return Response.json({ isReady: false, why: "the database does not answer" }, { status: 503 });
  }
});
