import { byId, done, noBody, ofFleet, route } from "@/app/http";
import { bringBackFleet } from "@/services/plans";

export const POST = route(
  "edit plans",
  ofFleet,
  { input: { params: byId, body: noBody }, answer: done },
  async ({ services, actor, params }) => {
    await bringBackFleet(services, actor, params.id);
    return {};
  },
);
