import { z } from "zod";
import { person, services } from "@/app/services";
import { resumeAlarms } from "@/services";
import { answer, idOf, readBody } from "../../../answer";

type Context = { params: Promise<{ id: string }> };

/** Ends a pause before its time. */
export function DELETE(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    const id = idOf((await params).id);
    await readBody(request, z.strictObject({}));
    await resumeAlarms(services(), person(), id);
    return { resumed: id };
  });
}
