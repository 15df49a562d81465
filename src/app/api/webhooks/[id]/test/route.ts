import { person, services } from "@/app/services";
import { testHook } from "@/services";
import { answer, idOf, refuseElsewhere } from "../../../answer";

/** Sends an event that says nothing but that it is one. */
export function POST(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return answer(async () => {
    refuseElsewhere(request);
    await testHook(services(), person(), idOf((await params).id));
    return { isAsked: true };
  });
}
