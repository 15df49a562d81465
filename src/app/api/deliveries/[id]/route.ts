import { person, services } from "@/app/services";
import { retryDelivery } from "@/services";
import { answer, idOf, refuseElsewhere } from "../../answer";

/** Tries a delivery again that was given up. */
export function POST(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return answer(async () => {
    refuseElsewhere(request);
    await retryDelivery(services(), person(), idOf((await params).id));
    return { isAsked: true };
  });
}
