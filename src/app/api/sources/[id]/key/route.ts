import { person, services } from "@/app/services";
import { renewKey } from "@/services";
import { answer, idOf, refuseElsewhere } from "../../../answer";

type Context = { params: Promise<{ id: string }> };

/** A new key in the place of the old one; told this once. */
export function POST(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    refuseElsewhere(request);
    return renewKey(services(), person(), idOf((await params).id));
  });
}
