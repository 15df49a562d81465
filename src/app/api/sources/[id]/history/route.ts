import { person, services } from "@/app/services";
import { askHistory } from "@/services";
import { answer, idOf, refuseElsewhere } from "../../../answer";

type Context = { params: Promise<{ id: string }> };

/** Asks a Prometheus for the last four weeks, in the background. */
export function POST(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    refuseElsewhere(request);
    await askHistory(services(), person(), idOf((await params).id));
    return { isAsked: true };
  });
}
