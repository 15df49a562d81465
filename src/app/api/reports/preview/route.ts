import { instantOf } from "@/app/burn-query";
import { answersWith, estate, pageQuery, route } from "@/app/http";
import { isZone } from "@/core/time";
import { previewReport } from "@/services/report";

const query = pageQuery.transform((params) => {
  const text = (name: string) => [params[name] ?? ""].flat()[0] ?? "";
  const zone = text("zone");
  return {
    name: text("name").slice(0, 80),
    at: instantOf(params),
    zone: isZone(zone) ? zone : "UTC",
    scope: text("scope").slice(0, 4000),
  };
});

export const GET = route(
  "look",
  estate,
  { input: { query }, answer: answersWith<typeof previewReport>() },
  ({ services, actor, query: asked }) => previewReport(services, actor, asked),
);
