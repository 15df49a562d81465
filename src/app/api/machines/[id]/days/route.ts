import { person, services } from "@/app/services";
import { machineDays } from "@/services";
import { answer } from "../../../answer";

type Context = { params: Promise<{ id: string }> };

/** Four weeks of a machine on one axis of time. */
export function GET(_request: Request, { params }: Context): Promise<Response> {
  return answer(async () => machineDays(services(), person(), { id: decodeURIComponent((await params).id) }));
}
