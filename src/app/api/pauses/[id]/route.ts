import { person, services } from "@/app/services";
import { pauses, resumeRounds } from "@/services";
import { answer, idOf, refuseElsewhere } from "../../answer";

type Context = { params: Promise<{ id: string }> };

/** Ends a pause: rounds go on. */
export function DELETE(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    refuseElsewhere(request);
    await resumeRounds(services(), person(), idOf((await params).id));
    return pauses(services(), person());
  });
}
