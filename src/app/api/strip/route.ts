import { instantOf, viewOf } from "@/app/burn-query";
import { answersWith, estate, pageQuery, route } from "@/app/http";
import { timeStrip } from "@/services/cost";

export const dynamic = "force-dynamic";

const query = pageQuery.transform((params) => ({ at: instantOf(params), view: viewOf(params) }));

export const GET = route(
  "look",
  estate,
  { input: { query }, answer: answersWith<typeof timeStrip>() },
  ({ services, actor, query: asked }) => timeStrip(services, actor, asked),
);
