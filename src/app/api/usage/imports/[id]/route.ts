import { answersWith, byId, done, estate, route } from "@/app/http";
import { cancelImport, openImport, takeBackImport } from "@/services/usage";

export const GET = route(
  "look",
  estate,
  { input: { params: byId }, answer: answersWith<typeof openImport>() },
  ({ services, actor, params }) => openImport(services, actor, params.id),
);

/** Cancels an import that is under way, or takes one back that is through. */
export const DELETE = route("import", estate, { input: { params: byId }, answer: done }, async ({ services, actor, params }) => {
  const { one } = await openImport(services, actor, params.id);
  if (one.status === "done") await takeBackImport(services, actor, params.id);
  else await cancelImport(services, actor, params.id);
  return {};
});
