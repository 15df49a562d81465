import { answersWith, estate, route } from "@/app/http";
import { makeSource, metricSources } from "@/services/metrics";
import { sourceSchema } from "./shapes";

export const GET = route("look", estate, { input: {}, answer: answersWith<typeof metricSources>() }, ({ services, actor }) =>
  metricSources(services, actor),
);

/** Sets a source of metrics up; answers with the key of one that pushes, this once. */
export const POST = route(
  "set up",
  estate,
  { input: { body: sourceSchema }, answer: answersWith<typeof makeSource>() },
  ({ services, actor, body }) => makeSource(services, actor, body),
);
