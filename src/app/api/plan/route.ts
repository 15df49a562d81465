import { z } from "zod";
import { person, services } from "@/app/services";
import { exportPlan, importPlan } from "@/services";
import { answer, asText, readBody } from "../answer";

/** The whole plan as a file: YAML, or JSON with `?format=json`. */
export function GET(request: Request): Promise<Response> {
  const format = new URL(request.url).searchParams.get("format") === "json" ? "json" : "yaml";
  return asText(format === "json" ? "application/json" : "application/yaml", async () => ({
    file: `umbrik-plan.${format}`,
    text: await exportPlan(services(), person(), format),
  }));
}

const bodySchema = z.strictObject({ text: z.string(), confirmedStops: z.number().int().min(0) });

export function POST(request: Request): Promise<Response> {
  return answer(async () => importPlan(services(), person(), await readBody(request, bodySchema)));
}
