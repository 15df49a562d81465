import { z } from "zod";
import { person, services } from "@/app/services";
import { deleteReport, reportEditSchema, saveReport } from "@/services";
import { answer, idOf, readBody } from "../../answer";

const bodySchema = z.strictObject({ version: z.number().int(), draft: reportEditSchema });

type Context = { params: Promise<{ id: string }> };

export function PUT(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    const { version, draft } = await readBody(request, bodySchema);
    await saveReport(services(), person(), { id: idOf((await params).id), version, draft });
    return {};
  });
}

export function DELETE(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    await readBody(request, z.strictObject({}));
    await deleteReport(services(), person(), idOf((await params).id));
    return {};
  });
}
