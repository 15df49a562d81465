import { person, services } from "@/app/services";
import { cancelImport, openImport, takeBackImport } from "@/services";
import { answer, idOf, refuseElsewhere } from "../../../answer";

type Context = { params: Promise<{ id: string }> };

export function GET(_request: Request, { params }: Context): Promise<Response> {
  return answer(async () => openImport(services(), person(), idOf((await params).id)));
}

/** Cancels an import that is under way, or takes one back that is through. */
export function DELETE(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    refuseElsewhere(request);
    const id = idOf((await params).id);
    const { one } = await openImport(services(), person(), id);
    if (one.status === "done") await takeBackImport(services(), person(), id);
    else await cancelImport(services(), person(), id);
    return {};
  });
}
