import { z } from "zod";
import { person, services } from "@/app/services";
import { removeSchedule, scheduleIcs } from "@/services";
import { answer, asText, decoded, readBody } from "../../answer";

type Context = { params: Promise<{ name: string }> };

/** `NAME.ics`: the schedule as a calendar that programs subscribe to. */
export function GET(_request: Request, { params }: Context): Promise<Response> {
  return asText("text/calendar; charset=utf-8", async () => {
    const file = decoded((await params).name);
    return { file, text: await scheduleIcs(services(), person(), file.replace(/\.ics$/, "")) };
  });
}

export function DELETE(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    await readBody(request, z.strictObject({}));
    await removeSchedule(services(), person(), decoded((await params).name));
    return { removed: true };
  });
}
