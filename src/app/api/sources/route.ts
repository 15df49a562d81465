import { person, services } from "@/app/services";
import { makeSource, metricSources } from "@/services";
import { answer, readBody } from "../answer";
import { sourceSchema } from "./shapes";

export function GET(): Promise<Response> {
  return answer(() => metricSources(services(), person()));
}

/** Sets a source of metrics up; answers with the key of one that pushes, this once. */
export function POST(request: Request): Promise<Response> {
  return answer(async () => makeSource(services(), person(), await readBody(request, sourceSchema)));
}
